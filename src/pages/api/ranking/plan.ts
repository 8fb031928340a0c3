import { endpoint } from '#app/http';
import { choiceOf } from '#features/ranking/model/choiceAddress';
import { planNext } from '#features/ranking/server/nextStudy';

/** Opens a study as it was proposed. */
export const POST = endpoint((ask) => [choiceOf(new URL(ask.request.url).searchParams), ask.json()], planNext, 201);
