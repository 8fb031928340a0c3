import { endpoint } from '#app/http';
import { bringPackage, dropPackage } from '#features/exchange/server/heldPackages';

/** Brings a package in that was looked at; the answer is a line of JSON for each step. Closing the connection cancels it. */
export const POST = endpoint((ask) => [ask.part('token'), ask.json(), ask.request.signal], bringPackage);

/** Lets go of a package that was looked at. */
export const DELETE = endpoint((ask) => [ask.part('token')], dropPackage);
