import { endpoint } from '#app/http';
import { addSpecimen } from '#features/study/server/specimens';

/** Adds a specimen. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json()], addSpecimen, 201);
