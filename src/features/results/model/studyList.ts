import { FACTORS, type Factor } from '#features/study/model/factors';

/** A study as the list of all shows it. */
export interface ListedStudy {
  title: string;
  question: string;
  varies: Factor | null;
  specimens: string[];
  mounts: number;
  runs: number;
  /** whether a verdict can be told */
  isTold: boolean;
  isPublished: boolean;
  opened: Date;
}

/** How far a study is. */
export const STUDY_STATES = {
  planned: 'Planned, no run yet',
  measuring: 'No verdict yet',
  told: 'With a verdict',
  published: 'Published',
} as const;
export type StudyState = keyof typeof STUDY_STATES;

export const STUDY_SORTS = { newest: 'Newest first', oldest: 'Oldest first', title: 'Title', runs: 'Most runs' } as const;
export const STUDY_GROUPS = { none: 'Not grouped', state: 'State', compares: 'What is compared', year: 'Year' } as const;

/** What of the list is asked for; all of it where nothing is. */
export interface ListQuery {
  /** in title, question or what is compared */
  text: string;
  state: StudyState | null;
  compares: Factor | null;
  sort: keyof typeof STUDY_SORTS;
  group: keyof typeof STUDY_GROUPS;
  /** from 1 */
  page: number;
}

/** Studies on one page of the list. */
const PAGE = 20;

export const stateOf = (s: Pick<ListedStudy, 'runs' | 'isTold' | 'isPublished'>): StudyState =>
  s.isPublished ? 'published' : s.isTold ? 'told' : s.runs > 0 ? 'measuring' : 'planned';

/** What an address asks of the list; what it does not know is as if it were not asked. */
export function listQuery(search: URLSearchParams): ListQuery {
  const oneOf = <Key extends string>(name: string, all: Record<Key, string>): Key | null => {
    const said = search.get(name) ?? '';
    return Object.hasOwn(all, said) ? (said as Key) : null;
  };
  return {
    text: (search.get('text') ?? '').trim().slice(0, 80),
    state: oneOf('state', STUDY_STATES),
    compares: oneOf('compares', FACTORS),
    sort: oneOf('sort', STUDY_SORTS) ?? 'newest',
    group: oneOf('group', STUDY_GROUPS) ?? 'none',
    page: /^[1-9]\d{0,4}$/.test(search.get('page') ?? '') ? Number(search.get('page')) : 1,
  };
}

/** What is asked for of the list: its page, and what there is besides. */
export interface StudyPage<S> {
  /** studies in their order, each with the heading it stands under; an empty heading where they are not grouped */
  studies: { heading: string; study: S }[];
  /** how many match in all */
  total: number;
  page: number;
  pages: number;
}

/** The studies that are asked for, in their order, those of a group together, on the page that is asked for or the last there is. */
export function pageOfStudies<S extends ListedStudy>(studies: S[], query: ListQuery): StudyPage<S> {
  const words = query.text.toLowerCase().split(/\s+/).filter(Boolean);
  const kept = studies
    .filter((s) => words.every((w) => [s.title, s.question, ...s.specimens].join(' ').toLowerCase().includes(w)))
    .filter((s) => query.state === null || stateOf(s) === query.state)
    .filter((s) => query.compares === null || (s.varies ?? 'material') === query.compares)
    .sort(ORDERS[query.sort]);
  const heading = (s: S): string =>
    query.group === 'state'
      ? STUDY_STATES[stateOf(s)]
      : query.group === 'compares'
        ? FACTORS[s.varies ?? 'material']
        : query.group === 'year'
          ? String(s.opened.getFullYear())
          : '';
  const groups = new Map<string, S[]>();
  for (const s of kept) groups.set(heading(s), [...(groups.get(heading(s)) ?? []), s]);
  const all = [...groups].flatMap(([h, list]) => list.map((study) => ({ heading: h, study })));
  const pages = Math.max(1, Math.ceil(all.length / PAGE));
  const page = Math.min(query.page, pages);
  return { studies: all.slice((page - 1) * PAGE, page * PAGE), total: all.length, page, pages };
}

/** The address of another page of the same list. */
export function pageAddress(search: URLSearchParams, page: number): string {
  const next = new URLSearchParams(search);
  next.set('page', String(page));
  return `/studies?${next}`;
}

const ORDERS: Record<keyof typeof STUDY_SORTS, (a: ListedStudy, b: ListedStudy) => number> = {
  newest: (a, b) => b.opened.getTime() - a.opened.getTime(),
  oldest: (a, b) => a.opened.getTime() - b.opened.getTime(),
  title: (a, b) => a.title.localeCompare(b.title),
  runs: (a, b) => b.runs - a.runs,
};
