import type { ScatterChoice, ScatterSchool } from '#core/compare/types';

/** A study that leaves its school open is judged by the one that kept its error in simulated studies. */
export function scatterChoice(said: ScatterSchool | 'auto'): ScatterChoice {
  return said === 'auto' ? 'measured' : said;
}
