import { endpoint } from '#app/http';
import { choiceOf } from '#features/ranking/model/choiceAddress';
import { askNext } from '#features/ranking/server/nextStudy';

/** The studies that would tell most for the hours at hand. */
export const POST = endpoint((ask) => [choiceOf(new URL(ask.request.url).searchParams), ask.json()], askNext);
