import type { RankingChoice } from './rankingRows';

const MOST_YEARS = 50;

/** What an address says of how the evidence is looked at; what it says wrongly is as if it said nothing. */
export function choiceOf(params: URLSearchParams): RankingChoice {
  const years = Number(params.get('years'));
  return {
    reference: params.get('reference')?.slice(0, 200) || null,
    lots: params.get('lots') === 'together' ? 'together' : 'apart',
    labs: params.get('labs') === 'all' ? 'all' : 'own',
    years: params.has('years') && years > 0 && years <= MOST_YEARS ? years : null,
  };
}

/** The address of a choice; what is usual does not stand in it. */
export function addressOf({ reference, lots, labs, years }: RankingChoice): string {
  const said = new URLSearchParams();
  if (reference !== null) said.set('reference', reference);
  if (lots === 'together') said.set('lots', lots);
  if (labs === 'all') said.set('labs', labs);
  if (years !== null) said.set('years', String(years));
  const text = said.toString();
  return text === '' ? '' : `?${text}`;
}

/** The address of a material's own page under a choice. */
export function materialAddress(material: string, choice: RankingChoice): string {
  const said = new URLSearchParams(addressOf(choice));
  said.set('material', material);
  return `/ranking/material?${said}`;
}
