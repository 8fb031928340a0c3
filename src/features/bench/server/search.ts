import { database } from '#app/database/pool';
import { type Found, findPlaces } from '#features/bench/model/found';
import { findInStore } from '#features/bench/store/search';

const MOST_LENGTH = 120;

/** What a text finds: things of the store by their names, then places and tools. */
export async function search(text: string | null): Promise<{ found: Found[] }> {
  const query = (text ?? '').trim().slice(0, MOST_LENGTH);
  if (query === '') return { found: [] };
  const [things, places] = [await findInStore(database(), query), findPlaces(query)];
  const begins = (f: Found) => Number(f.name.toLowerCase().startsWith(query.toLowerCase()));
  return { found: [...things, ...places].sort((a, b) => begins(b) - begins(a)) };
}
