import { endpoint } from '#app/http';
import { binSheet } from '#features/run/server/binSheet';
import { parseSection } from '#features/shelf/server/parseSection';
import { saveSheet, sheetView } from '#features/shelf/server/sheets';

export const GET = endpoint((ask) => [parseSection(ask.part('section')), ask.id('sheet')], sheetView);

/** Saves a sheet read at a version. */
export const PUT = endpoint((ask) => [parseSection(ask.part('section')), ask.id('sheet'), ask.json()], saveSheet);

/** Deletes a sheet, or archives it where it is used. */
export const DELETE = endpoint((ask) => [parseSection(ask.part('section')), ask.id('sheet')], binSheet);
