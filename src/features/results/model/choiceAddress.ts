import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { ResultsChoice, StudyFacts } from './facts';

/** The parts of a choice that an address holds, by their names there. */
const NAMES = {
  outcome: 'outcome',
  scatter: 'method',
  family: 'pairs',
  block: 'adjust',
  load: 'load',
  power_w: 'power',
  event: 'event',
  sensor: 'sensor',
  at: 'at',
  with_excluded: 'excluded',
} as const satisfies Partial<Record<keyof ResultsChoice, string>>;

const BLOCKS = ['day', 'rig', 'rig-day'] as const;
const METHODS = ['auto', 'pooled', 'separate', 'strict'] as const;

/** What an address says of a choice, where it differs from the one a study is looked at first; empty where it does not. */
export function choiceQuery(choice: ResultsChoice, own: ResultsChoice): string {
  const query = new URLSearchParams();
  for (const [key, name] of Object.entries(NAMES) as [keyof typeof NAMES, string][]) {
    const [now, before] = [choice[key] ?? null, own[key] ?? null];
    if (now !== before) query.set(name, now === null ? 'none' : String(now));
  }
  return query.toString();
}

/** The choice that an address says; what it does not say, or what the study does not have, is as it is looked at first. */
export function choiceOf(query: URLSearchParams, own: ResultsChoice, facts: Pick<StudyFacts, 'loads'>): ResultsChoice {
  const said = (key: keyof typeof NAMES): string | null => query.get(NAMES[key]);
  const oneOf = <T extends string>(text: string | null, all: readonly T[]): T | null => all.find((t) => t === text) ?? null;
  const choice = { ...own };
  const outcome = said('outcome');
  if (outcome !== null && Object.hasOwn(OUTCOMES, outcome)) choice.outcome = outcome as OutcomeKey;
  choice.scatter = (oneOf(said('scatter'), METHODS) as ResultsChoice['scatter'] | null) ?? own.scatter;
  choice.family = oneOf(said('family'), ['all', 'reference'] as const) ?? own.family;
  const block = said('block');
  if (block === 'none') choice.block = null;
  else choice.block = (oneOf(block, BLOCKS) as ResultsChoice['block']) ?? own.block;
  const load = said('load');
  if (load !== null && facts.loads.includes(load)) choice.load = load;
  const power = Number(said('power_w') ?? Number.NaN);
  if (power > 0 && power < 100_000) choice.power_w = power;
  if (said('event') !== null) choice.event = said('event');
  if (said('sensor') !== null) choice.sensor = said('sensor') === 'none' ? null : said('sensor');
  const at = said('at');
  if (at === 'mean') choice.at = 'mean';
  else if (at !== null && Number(at) > 0) choice.at = Number(at);
  if (said('with_excluded') === 'true') choice.with_excluded = true;
  return choice;
}
