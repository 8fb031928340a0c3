import { readFileSync } from 'node:fs';

let known: string | null | undefined;

/** Tells one build of the application from another; null where it runs from its sources as they change, and nothing of it may be kept. */
export function buildId(): string | null {
  if (known === undefined) {
    known = null;
    if (process.env.NODE_ENV !== 'development') {
      try {
        known = readFileSync('build/built', 'utf8').trim() || null;
      } catch {
        // never built
      }
    }
  }
  return known;
}
