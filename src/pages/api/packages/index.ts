import { endpoint } from '#app/http';
import { lookAtPackage } from '#features/exchange/server/heldPackages';

/** Takes a package, its bytes as the body, and tells what it would bring. Nothing is stored yet. */
export const POST = endpoint((ask) => [ask.request, ask.query('name') ?? 'The file'], lookAtPackage, 201);
