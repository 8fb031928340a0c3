import { endpoint, parseId } from '#app/http';
import { listPlaces } from '#features/run/server/places';

/** Studies asked for in full at once. */
const MOST_ASKED = 20;

/** Studies, specimens, mounts and rigs, for saying where a run belongs; those of `?study=1,2` are told in full. */
export const GET = endpoint(
  (ask) => [
    (ask.query('study') ?? '')
      .split(',')
      .filter((id) => id !== '')
      .slice(0, MOST_ASKED)
      .map((id) => parseId(id, 'study')),
  ],
  listPlaces,
);
