/** A file that is to find its mount. */
interface MatchFile {
  name: string;
  /** when its log began, in ms since 1970; null where it names no date */
  began: number | null;
}

/** Where a file may belong. */
export interface MatchPlace {
  specimens: { id: number; name: string }[];
  mounts: { id: number; specimen_id: number; number: number; made: number | null; runs?: number }[];
  /** mount on whose page the files were dropped */
  at_mount?: number | null;
}

export interface Match {
  specimen_id: number | null;
  /** null: a new mount */
  mount_id: number | null;
  /** number of the mount that the name says, where there is none of it yet */
  mount_number: number | null;
  run_number: number | null;
  /** what the name itself says */
  said: Said;
  /** what decided, in words */
  because: string;
}

/** A run follows its mount within this time. */
const MOST_AFTER_MS = 36 * 3600 * 1000;

/** Letters and digits of a name in small letters, with everything between as one blank. */
const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/\.[a-z0-9]{1,5}$/, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * Finds where files belong by their names and times. Names hold the specimen, then "mount 2" or "m2" and "run 3" or "r3", or what a pattern
 * says. Where the name says no mount, the mount that was made last before the log began is taken.
 * @param pattern such as "{specimen}_{mount}_{run}", with * for anything; empty for the usual names
 */
export function matchFiles(files: MatchFile[], places: MatchPlace, pattern = ''): Match[] {
  const expression = pattern.trim() === '' ? null : patternOf(pattern);
  return files.map((file) => {
    const said = expression ? byPattern(file.name, expression) : byTokens(file.name, places);
    return { ...matchFile(file, said, places), said };
  });
}

function matchFile(file: MatchFile, said: Said, places: MatchPlace): Omit<Match, 'said'> {
  const specimen = said.specimen === null ? undefined : specimenOf(said.specimen, places);
  if (!specimen) return onPage(places, said.run) ?? byTime(file, places, said.run);
  const mounts = places.mounts.filter((m) => m.specimen_id === specimen.id);
  const named = said.mount === null ? undefined : mounts.find((m) => m.number === said.mount);
  if (said.mount !== null) {
    const because = named
      ? `the name says ${specimen.name}, mount ${said.mount}`
      : `the name says ${specimen.name}, mount ${said.mount}, which is not there yet`;
    return {
      specimen_id: specimen.id,
      mount_id: named?.id ?? null,
      mount_number: named ? null : said.mount,
      run_number: said.run,
      because,
    };
  }
  const here = mounts.find((m) => m.id === places.at_mount);
  const latest = here ?? lastBefore(file, mounts) ?? waiting(mounts);
  const because = here
    ? `dropped on the page of ${specimen.name}, mount ${here.number}`
    : latest?.runs === 0
      ? `the name says ${specimen.name}; mount ${latest.number} has no run yet`
      : latest
        ? `the name says ${specimen.name}; mount ${latest.number} was made last before it`
        : `the name says ${specimen.name}`;
  return { specimen_id: specimen.id, mount_id: latest?.id ?? null, mount_number: null, run_number: said.run, because };
}

/** What the name of a file says. */
export interface Said {
  specimen: string | null;
  mount: number | null;
  run: number | null;
}

function byTokens(name: string, places: MatchPlace): Said {
  const text = plain(name);
  const joined = text.replaceAll(' ', '');
  // the longest name that is contained counts: "Wick 60" before "Wick"
  const specimen = [...places.specimens]
    .sort((a, b) => b.name.length - a.name.length)
    .find((s) => joined.includes(plain(s.name).replaceAll(' ', '')));
  const rest = specimen ? withoutName(text, plain(specimen.name)) : text;
  const number = (words: string) => {
    const m = new RegExp(`(?:^| )(?:${words}) ?0*(\\d{1,3})(?= |$|[a-z])`).exec(rest);
    return m ? Number(m[1]) : null;
  };
  return { specimen: specimen?.name ?? null, mount: number('mount|mnt|m'), run: number('run|cycle|r') };
}

/** A text without the words of a name, however these are set apart. */
const withoutName = (text: string, name: string): string =>
  ` ${text} `
    .replace(new RegExp(name.split(' ').join(' ?')), ' ')
    .replace(/ +/g, ' ')
    .trim();

function patternOf(pattern: string): RegExp {
  const parts = pattern.split(/(\{specimen\}|\{mount\}|\{run\}|\*)/);
  const source = parts
    .map((part) => {
      if (part === '{specimen}') return '(?<specimen>.+?)';
      if (part === '{mount}') return '(?<mount>\\d{1,3})';
      if (part === '{run}') return '(?<run>\\d{1,3})';
      return part === '*' ? '.*?' : part.replace(/[.+?^${}()|[\]\\]/g, '\\$&');
    })
    .join('');
  return new RegExp(`^${source}(?:\\.[A-Za-z0-9]{1,5})?$`, 'i');
}

function byPattern(name: string, expression: RegExp): Said {
  const groups = expression.exec(name)?.groups ?? {};
  const number = (text: string | undefined) => (text === undefined ? null : Number(text));
  return { specimen: groups.specimen ?? null, mount: number(groups.mount), run: number(groups.run) };
}

function specimenOf(name: string, places: MatchPlace) {
  const wanted = plain(`${name}.x`).replaceAll(' ', '');
  return places.specimens.find((s) => plain(`${s.name}.x`).replaceAll(' ', '') === wanted);
}

/** The mount on whose page the files were dropped; null where they were dropped elsewhere. */
function onPage({ mounts, at_mount }: MatchPlace, run: number | null): Omit<Match, 'said'> | null {
  const here = mounts.find((m) => m.id === at_mount);
  return here
    ? {
        specimen_id: here.specimen_id,
        mount_id: here.id,
        mount_number: null,
        run_number: run,
        because: 'dropped on the page of this mount',
      }
    : null;
}

/** The mount that waits for its first run: the earliest of those that have none. */
const waiting = (mounts: MatchPlace['mounts']): MatchPlace['mounts'][number] | undefined =>
  mounts
    .filter((m) => m.runs === 0)
    .reduce<MatchPlace['mounts'][number] | undefined>((a, m) => (a && a.number <= m.number ? a : m), undefined);

function byTime(file: MatchFile, places: MatchPlace, run: number | null): Omit<Match, 'said'> {
  const latest = lastBefore(file, places.mounts);
  const open = places.mounts.filter((m) => m.runs === 0);
  if (!latest && open.length === 1)
    return {
      ...{ specimen_id: open[0].specimen_id, mount_id: open[0].id, mount_number: null, run_number: run },
      because: 'the only mount that has no run yet',
    };
  if (!latest)
    return {
      specimen_id: null,
      mount_id: null,
      mount_number: null,
      run_number: run,
      because: 'neither its name nor its time says where it belongs',
    };
  return {
    specimen_id: latest.specimen_id,
    mount_id: latest.id,
    mount_number: null,
    run_number: run,
    because: 'this mount was made last before the log began',
  };
}

function lastBefore({ began }: MatchFile, mounts: MatchPlace['mounts']): MatchPlace['mounts'][number] | undefined {
  if (began === null) return undefined;
  return mounts
    .filter((m) => m.made !== null && m.made <= began && began - m.made <= MOST_AFTER_MS)
    .reduce<MatchPlace['mounts'][number] | undefined>((best, m) => (!best || Number(m.made) > Number(best.made) ? m : best), undefined);
}
