import { describe, expect, it } from 'vitest';
import { forgetSent, keep, keptFields } from './keptInput';

/** As much of a browser's storage as is needed here. */
function storage(): Storage {
  const items: Record<string, string> = {};
  const own = {
    getItem: (k: string) => items[k] ?? null,
    setItem: (k: string, v: string) => {
      Object.defineProperty(store, k, { value: v, enumerable: true, configurable: true });
      items[k] = v;
    },
    removeItem: (k: string) => {
      delete items[k];
      delete (store as unknown as Record<string, string>)[k];
    },
  };
  const store = Object.create(own) as Storage;
  return store;
}

describe('What was typed', () => {
  const typed = (fields: [name: string, value: string, at: number][]) => {
    const store = storage();
    for (const [name, value, at] of fields) keep(store, `typed:/plan|${name}`, { value, base: '', at });
    return store;
  };
  const left = (store: Storage) => [...keptFields(store, 100).keys()].map((k) => k.split('|')[1]);

  it('is forgotten once it was taken, numbers however they are written', () => {
    const store = typed([
      ['a', ' 2,50 ', 1],
      ['b', 'Amber', 2],
      ['c', 'Birch', 3],
    ]);
    forgetSent(store, '/plan', JSON.stringify({ a: 2.5, b: { name: 'Amber' } }), 100);
    expect(left(store)).toEqual(['c']);
  });

  it('stays where another field of the same text was taken: the one typed before was refused', () => {
    const store = typed([
      ['refused', '5', 1],
      ['taken', '5', 2],
    ]);
    forgetSent(store, '/plan', JSON.stringify({ changes: { taken: 5 } }), 100);
    expect(left(store)).toEqual(['refused']);
    forgetSent(store, '/plan', JSON.stringify({ changes: { refused: 5 } }), 100);
    expect(left(store)).toEqual([]);
  });

  it('of another page is left alone', () => {
    const store = typed([['a', '5', 1]]);
    forgetSent(store, '/other', JSON.stringify({ a: 5 }), 100);
    expect(left(store)).toEqual(['a']);
  });
});
