import { endpoint } from '#app/http';
import { freezeReport, reportVersions } from '#features/report/server/freeze';

export const GET = endpoint((ask) => [ask.id('study')], reportVersions);

/** Publishes the report as it stands. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json()], freezeReport, 201);
