import { readFileSync } from 'node:fs';
import { expect } from 'vitest';

interface Tolerance {
  absolute?: number;
  relative?: number;
  of_half_width?: number;
}

export interface VectorFile<I, E> {
  tolerance: Record<string, Tolerance>;
  cases: { name: string; input: I; expected: E }[];
}

/** Reads one reference file: values computed with other software, with their tolerances. */
export function vectors<I, E>(name: string): VectorFile<I, E> {
  return JSON.parse(readFileSync(new URL(`reference/vectors/${name}.json`, import.meta.url), 'utf8'));
}

/**
 * Holds a result against the expected part of a vector: strings, nulls and lengths exactly, numbers within the tolerance whose key is the
 * longest dotted suffix of the value's path, else '*'.
 */
export function expectWithin(got: unknown, want: unknown, tolerance: Record<string, Tolerance>, path: string[] = []): void {
  const where = path.join('.') || 'value';
  if (typeof want === 'number') {
    expect(typeof got, where).toBe('number');
    const allowed = allowance(tolerance, path, want, 0);
    expect(Math.abs((got as number) - want), `${where}: ${got} is not ${want} ± ${allowed}`).toBeLessThanOrEqual(allowed);
  } else if (Array.isArray(want)) {
    expect(Array.isArray(got) && got.length, where).toBe(want.length);
    const isInterval = want.length === 2 && want.every((v) => typeof v === 'number');
    want.forEach((w, i) => {
      const g = (got as unknown[])[i];
      if (isInterval) {
        const allowed = allowance(tolerance, path, w, (want[1] - want[0]) / 2);
        expect(Math.abs((g as number) - w), `${where}[${i}]: ${g} is not ${w} ± ${allowed}`).toBeLessThanOrEqual(allowed);
      } else expectWithin(g, w, tolerance, path);
    });
  } else if (want !== null && typeof want === 'object') {
    for (const [key, value] of Object.entries(want)) {
      expectWithin((got as Record<string, unknown>)?.[key], value, tolerance, [...path, key]);
    }
  } else expect(got, where).toBe(want);
}

function allowance(tolerance: Record<string, Tolerance>, path: string[], want: number, halfWidth: number): number {
  let entry = tolerance['*'] ?? {};
  for (let i = 0; i < path.length; i++) {
    const found = tolerance[path.slice(i).join('.')];
    if (found) {
      entry = found;
      break;
    }
  }
  return (entry.absolute ?? 0) + (entry.relative ?? 0) * Math.abs(want) + (entry.of_half_width ?? 0) * halfWidth;
}
