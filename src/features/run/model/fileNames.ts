import { list } from '#core/text/words';

/** What the name of a log says of its run. */
export interface NameParts {
  /** what was measured, as it is written; null where the name holds no word of its own */
  specimen: string | null;
  mount: number | null;
  run: number | null;
  /** number at the end that is neither called a mount nor a run */
  index: number | null;
}

export interface NamedFile {
  name: string;
  /** folder it was dropped with */
  folder?: string | null;
}

/** Words that say what kind of file it is, and nothing of what was measured. */
const GENERIC = new Set(
  `log logs data run runs test tests export exports record records recording capture measurement measurements result results sensor
  sensors temp temps temperature temperatures thermal file csv tsv txt trace new copy final untitled unnamed output`.split(/\s+/),
);

const DATE =
  /(?:19|20)\d{2}[-_. ]?(?:0[1-9]|1[0-2])[-_. ]?(?:0[1-9]|[12]\d|3[01])(?:[T_ -]+[0-2]\d[-_.: ]?[0-5]\d(?:[-_.: ]?[0-5]\d)?Z?)?/g;
const DOTTED_DATE = /(?:0?[1-9]|[12]\d|3[01])\.(?:0?[1-9]|1[0-2])\.(?:19|20)\d{2}/g;
const MOUNT = /(?:^| )(?:mount|mnt|application|m) ?0*(\d{1,3})(?= |$)/i;
const RUN = /(?:^| )(?:run|cycle|pass|r) ?0*(\d{1,3})(?= |$)/i;

/** Words and numbers of a name in their order, without its ending and its dates; decimals such as 0.5 stay one. */
const wordsOf = (name: string): string =>
  (
    name
      .replace(/\.[A-Za-z][A-Za-z0-9]{0,4}$/, '')
      .replace(/^copy[ _-]of\b/i, ' ')
      .replace(DATE, ' ')
      .replace(DOTTED_DATE, ' ')
      .match(/\d+\.\d+(?!\d)|[\p{L}\p{N}]+/gu) ?? []
  ).join(' ');

const isNumber = (word: string): boolean => /^\d+$/.test(word);
const sameWords = (a: string[], b: string[]): boolean => a.join('').toLowerCase() === b.join('').toLowerCase();

interface Told {
  words: string[];
  mount: number | null;
  run: number | null;
  index: number | null;
  /** the last number stands behind a mount or run, or at the end of a name without them */
  trailing: string | null;
}

function tell(name: string): Told {
  const text = wordsOf(name);
  const mount = MOUNT.exec(text);
  const run = RUN.exec(text);
  const rest = [mount, run].reduce((left, m) => (m ? left.replace(m[0], ' ') : left), text);
  const words = rest
    .split(' ')
    .filter((w) => w !== '')
    .flatMap((w) => {
      const glued = /^(\p{L}+)(\d+)$/u.exec(w);
      return glued && GENERIC.has(glued[1].toLowerCase()) ? [glued[1], glued[2]] : [w];
    });
  const last = words.at(-1);
  const isTrailing = last !== undefined && isNumber(last) && text.endsWith(last);
  return {
    words,
    mount: mount ? Number(mount[1]) : null,
    run: run ? Number(run[1]) : null,
    index: null,
    trailing: isTrailing ? last : null,
  };
}

/** Numbers that count files and name nothing: written with leading zeros, or 1, 2, 3 and so on. */
function isCount(numbers: string[]): boolean {
  if (numbers.every((n) => n.length > 1 && n.startsWith('0'))) return true;
  const values = numbers.map(Number);
  return new Set(values).size > 1 && Math.min(...values) <= 1 && Math.max(...values) <= numbers.length + 2;
}

/** Takes the number at the end off names that differ by nothing else, where it counts the files. */
function splitCounts(told: Told[]): void {
  const groups = new Map<string, Told[]>();
  for (const t of told) {
    if (t.trailing === null) continue;
    const key = [...t.words.slice(0, -1), t.mount, t.run].join(' ').toLowerCase();
    groups.set(key, [...(groups.get(key) ?? []), t]);
  }
  for (const group of groups.values()) {
    if (!isCount(group.map((t) => t.trailing as string))) continue;
    for (const t of group) {
      t.words = t.words.slice(0, -1);
      if (t.mount !== null && t.run === null) t.run = Number(t.trailing);
      else t.index = Number(t.trailing);
    }
  }
}

/** Words that all names begin or end with, where something is left of each without them. */
function common(names: string[][]): { head: string[]; tail: string[] } {
  if (names.length < 2 || names.every((n) => sameWords(n, names[0]))) return { head: [], tail: [] };
  const shortest = Math.min(...names.map((n) => n.length));
  const same = (at: (n: string[]) => string) => names.every((n) => at(n).toLowerCase() === at(names[0]).toLowerCase());
  let head = 0;
  while (head < shortest - 1 && same((n) => n[head])) head++;
  let tail = 0;
  while (head + tail < shortest - 1 && same((n) => n[n.length - 1 - tail])) tail++;
  // a number alone is no name
  while (head > 0 && names.some((n) => n.slice(head, n.length - tail).every(isNumber))) head--;
  while (tail > 0 && names.some((n) => n.slice(head, n.length - tail).every(isNumber))) tail--;
  return { head: names[0].slice(0, head), tail: tail === 0 ? [] : names[0].slice(-tail) };
}

const capital = (text: string): string => (text === text.toLowerCase() ? text.charAt(0).toUpperCase() + text.slice(1) : text);

/** How many specimens a title names before it counts the rest. */
const NAMED_IN_TITLE = 3;

/**
 * What the names of files dropped together say: the specimen, the mount and the run of each, and what they have in common as the title of a
 * study.
 * @example readNames([{ name: 'amber_nine_mount3_run2.csv' }]).parts[0] // { specimen: 'Amber nine', mount: 3, run: 2, index: null }
 */
export function readNames(files: NamedFile[]): { title: string | null; parts: NameParts[] } {
  const told = files.map((f) => tell(f.name));
  splitCounts(told);
  // a kind of file stands at one end of a name: what is between other words belongs to it
  for (const t of told) {
    while (t.words.length > 0 && GENERIC.has(t.words[0].toLowerCase())) t.words.shift();
    while (t.words.length > 0 && GENERIC.has((t.words.at(-1) as string).toLowerCase())) t.words.pop();
    if (t.words.every(isNumber)) {
      const [first] = t.words;
      if (first !== undefined) t.index ??= Number(first);
      t.words = [];
    }
  }
  const named = told.filter((t) => t.words.length > 0);
  const { head, tail } = common(named.map((t) => t.words));
  for (const t of named) t.words = t.words.slice(head.length, t.words.length - tail.length);
  const spelled: string[][] = [];
  for (const t of named) {
    const known = spelled.find((s) => sameWords(s, t.words));
    if (known) t.words = known;
    else spelled.push(t.words);
  }
  const parts = told.map(
    ({ words, mount, run, index }): NameParts => ({
      specimen: words.length > 0 ? capital(words.join(' ')).slice(0, 80) : null,
      mount,
      run,
      index,
    }),
  );
  return { title: titleOf(files, [...head, ...tail], parts), parts };
}

function titleOf(files: NamedFile[], shared: string[], parts: NameParts[]): string | null {
  const folders = new Set(files.map((f) => f.folder ?? ''));
  const [folder] = folders;
  if (folders.size === 1 && folder) return capital(folder.replace(/[_\s]+/g, ' ').trim()).slice(0, 100);
  if (shared.length > 0) return capital(shared.join(' ')).slice(0, 100);
  const specimens = [...new Set(parts.flatMap((p) => p.specimen ?? []))];
  if (specimens.length === 0) return null;
  const shown = specimens.length > NAMED_IN_TITLE ? [...specimens.slice(0, 2), `${specimens.length - 2} others`] : specimens;
  return list(shown).slice(0, 100);
}

/** Words by which a name says a state of one device, the earlier ones first. */
const BEFORE = /\b(?:before|old|as found|baseline|untouched|dusty|original)\b/i;
const AFTER = /\b(?:after|new|repasted|cleaned|serviced|refurbished|repaired|fresh)\b/i;

/** True where names tell two states of a device, not two things. */
export const isBeforeAfter = (specimens: string[]): boolean =>
  specimens.some((s) => BEFORE.test(s)) && specimens.some((s) => AFTER.test(s));

/** States of a device by time: what was found first. */
export const beforeFirst = (a: string, b: string): number => Number(BEFORE.test(b)) - Number(BEFORE.test(a));
