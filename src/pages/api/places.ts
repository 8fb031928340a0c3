import { endpoint, parseId } from '#app/http';
import { listPlaces } from '#features/run/server/places';

/** Studies, specimens, mounts and rigs, for saying where a run belongs; the study of `?study=` is among them. */
export const GET = endpoint((ask) => [ask.query('study') === null ? null : parseId(ask.query('study') ?? '', 'study')], listPlaces);
