import type { ScatterChoice, ScatterSchool } from '#core/compare/types';

/** A study that leaves its school open is judged by the one that kept its error in simulated studies. */
export const scatterChoice = (said: ScatterSchool | 'auto'): ScatterChoice => (said === 'auto' ? 'measured' : said);
