import { endpoint } from '#app/http';
import { listPlaces } from '#features/run/server/places';

/** Studies, specimens, mounts and rigs, for saying where a run belongs. */
export const GET = endpoint(() => [], listPlaces);
