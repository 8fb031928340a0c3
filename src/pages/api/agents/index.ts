import { endpoint } from '#app/http';
import { agentsView, greetAgent } from '#features/live/server/agents';

/** Machines whose agents are there. */
export const GET = endpoint(() => [], agentsView);

/** What an agent says of its machine; answered with the run that was begun on it. */
export const POST = endpoint((ask) => [ask.json()], greetAgent);
