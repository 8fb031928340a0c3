import { endpoint } from '#app/http';
import { measureMachine } from '#features/live/server/agents';

/** Begins a live run on a machine whose agent waits. */
export const POST = endpoint((ask) => [ask.json()], measureMachine, 201);
