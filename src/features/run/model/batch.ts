import { list, plural } from '#core/text/words';
import { beforeFirst, readNames } from './fileNames';
import { type MatchPlace, matchFiles } from './matchFiles';

/** A file of a batch, as far as its place goes. */
export interface BatchFile {
  /** distinguishes files of one name in several folders */
  key: string;
  name: string;
  folder: string | null;
  /** when its log began, ms since 1970; null where it names no date */
  began: number | null;
}

/** Where a file belongs, by names. */
export interface BatchPlace {
  /** null: not named yet */
  specimen: string | null;
  /** number of the mount; null only where there is no specimen */
  mount: number | null;
  run: number | null;
  /** what decided, in words */
  because: string;
  /** nothing said the mount: it is numbered after the others */
  isOpen: boolean;
  /** placed by its time or by what waits for a run, not by its name or a person: the reason is to be read */
  isGuessed: boolean;
}

/** A study that files may belong to, and what of it is there. */
export interface BatchStudy extends MatchPlace {
  title: string;
}

/** What a person chose over what was found. */
export type BatchChoice = Partial<Pick<BatchPlace, 'specimen' | 'mount'>>;

export interface BatchChoices {
  /** names such as "{specimen}_{mount}_{run}"; empty for the usual ones */
  pattern: string;
  /** files of one specimen whose names say no mount: each a new mount, or runs of one */
  unnumbered: 'mounts' | 'runs';
  files: Record<string, BatchChoice>;
}

/** Whether a choice about files without a mount in their names is to be made: two of one specimen have none. */
export const asksMounts = (places: BatchPlace[]): boolean =>
  places.some((p) => p.isOpen && p.specimen !== null && places.filter((o) => o.isOpen && o.specimen === p.specimen).length > 1);

/** Where each file of a batch belongs, as found and as chosen; `isOpen` where nothing said the mount. */
export function placeBatch(files: BatchFile[], study: BatchStudy | null, choices: BatchChoices): BatchPlace[] {
  const found = study ? inStudy(files, study, choices.pattern) : asNew(files, choices.pattern);
  const chosen = found.map((place, i) => {
    const by = choices.files[files[i].key];
    if (!by) return { ...place, isOpen: place.mount === null, isGuessed: place.isGuessed ?? false };
    // a file that was given another specimen keeps its mount's number only where its own name says it
    const mount = by.mount === undefined ? (by.specimen === undefined || place.isNamed ? place.mount : null) : by.mount;
    return { ...place, ...by, mount, because: 'chosen by hand', isOpen: mount === null, isGuessed: false };
  });
  numberOpen(files, chosen, study, choices.unnumbered);
  return chosen.map(({ isNamed: _, ...place }) => place);
}

/** As found; `isNamed` where the file's own name says the mount. */
type Found = Omit<BatchPlace, 'isOpen' | 'isGuessed'> & { isNamed: boolean; isGuessed?: boolean };

const asNew = (files: BatchFile[], pattern: string): Found[] => {
  if (pattern.trim() !== '')
    return matchFiles(files, { specimens: [], mounts: [] }, pattern).map(({ said }) => ({
      ...{ specimen: said.specimen, mount: said.mount, run: said.run, isNamed: said.mount !== null },
      because: said.specimen === null ? 'its name does not follow the pattern' : 'by the pattern',
    }));
  return readNames(files).parts.map((p) => ({
    ...{ specimen: p.specimen, mount: p.mount, run: p.run ?? p.index, isNamed: p.mount !== null },
    because: p.specimen === null ? 'its name does not say what was measured' : 'by its name',
  }));
};

const inStudy = (files: BatchFile[], study: BatchStudy, pattern: string): Found[] => {
  const named = pattern.trim() === '' ? readNames(files).parts : [];
  return matchFiles(files, study, pattern).map((m, i) => {
    const specimen = study.specimens.find((s) => s.id === m.specimen_id)?.name ?? null;
    const mount = study.mounts.find((o) => o.id === m.mount_id)?.number ?? m.mount_number;
    const own = named[i]?.specimen ?? null;
    if (specimen !== null || own === null) {
      const isGuessed = specimen !== null && m.said.specimen === null;
      return { specimen, mount, run: m.run_number, because: m.because, isNamed: m.said.mount !== null, isGuessed };
    }
    const { run, index } = named[i];
    return {
      ...{ specimen: own, mount: named[i].mount, run: run ?? index, isNamed: named[i].mount !== null },
      because: 'by its name, which is new to this study',
    };
  });
};

/** Gives files whose names say no mount the numbers after those that there are, in the order of their times and names. */
function numberOpen(files: BatchFile[], places: BatchPlace[], study: BatchStudy | null, way: 'mounts' | 'runs') {
  const order = files
    .map((f, i) => ({ f, i }))
    .sort((a, b) => byTime(a.f, b.f))
    .map(({ i }) => i);
  const last = new Map<string, number>();
  const shared = new Map<string, number>();
  for (const p of places) if (p.specimen !== null && p.mount !== null) last.set(p.specimen, Math.max(last.get(p.specimen) ?? 0, p.mount));
  for (const s of study?.specimens ?? [])
    for (const m of study?.mounts.filter((o) => o.specimen_id === s.id) ?? []) last.set(s.name, Math.max(last.get(s.name) ?? 0, m.number));
  for (const i of order) {
    const p = places[i];
    if (p.specimen === null || p.mount !== null) continue;
    const number = (way === 'runs' ? shared.get(p.specimen) : undefined) ?? (last.get(p.specimen) ?? 0) + 1;
    p.mount = number;
    last.set(p.specimen, number);
    shared.set(p.specimen, number);
  }
}

/** Files in the order they were measured; those without a time by their names. */
export function byTime(a: BatchFile, b: BatchFile): number {
  if (a.began !== null && b.began !== null && a.began !== b.began) return a.began - b.began;
  return a.key.localeCompare(b.key, undefined, { numeric: true });
}

/** Places in the order in which they are shown and stored: specimens as they came, their mounts, and the runs as they were measured. */
export function inOrder<T extends { file: BatchFile; place: BatchPlace }>(rows: T[]): T[] {
  const first = [...rows].sort((a, b) => byTime(a.file, b.file));
  const names = [...new Set(first.map((r) => r.place.specimen))].filter((n) => n !== null).sort(beforeFirst);
  const rank = (r: T) => (r.place.specimen === null ? -1 : names.indexOf(r.place.specimen));
  return first.sort((a, b) => rank(a) - rank(b) || (a.place.mount ?? 0) - (b.place.mount ?? 0) || runOrder(a, b));
}

const runOrder = (a: { file: BatchFile; place: BatchPlace }, b: { file: BatchFile; place: BatchPlace }): number =>
  a.file.began === null || b.file.began === null
    ? (a.place.run ?? 0) - (b.place.run ?? 0) || byTime(a.file, b.file)
    : byTime(a.file, b.file);

/** The study that knows most of what the files name; null where none knows any. */
export function studyOf(files: BatchFile[], studies: (BatchStudy & { id: number })[]): number | null {
  const told = studies.map((s) => ({
    id: s.id,
    known: matchFiles(files, { specimens: s.specimens, mounts: [] }).filter((m) => m.specimen_id !== null).length,
  }));
  const best = told.reduce<(typeof told)[number] | null>((a, b) => (b.known > 0 && (!a || b.known >= a.known) ? b : a), null);
  return best?.id ?? null;
}

/** A title that no study has yet. */
export function freshTitle(wanted: string, taken: string[]): string {
  const known = new Set(taken);
  for (let n = 1; ; n++) {
    const title = n === 1 ? wanted : `${wanted} (${n})`;
    if (!known.has(title)) return title;
  }
}

/** What would be stored, in one line: "11 runs on 6 mounts of 3 specimens". */
export function batchWords(places: BatchPlace[]): string {
  const named = places.filter((p) => p.specimen !== null);
  const specimens = [...new Set(named.map((p) => p.specimen as string))];
  const mounts = new Set(named.map((p) => `${p.specimen}\n${p.mount}`)).size;
  if (named.length === 0) return `${plural(places.length, 'run')}, not named yet`;
  const of = specimens.length <= 3 ? list(specimens) : plural(specimens.length, 'specimen');
  return `${plural(named.length, 'run')} on ${plural(mounts, 'mount')} of ${of}`;
}
