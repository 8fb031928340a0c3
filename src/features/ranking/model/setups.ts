import { grouped } from '#core/ranking/mountRows';
import { list, write } from '#core/text/words';
import type { GivenPlace, StudyGiven } from './given';
import { PRESSURE_CLASSES } from './pressure';

/** Power that counts as the same load: the highest above the lowest of a set-up, as a share. */
const SAME_POWER = 1.1;

/** What a person said of set-ups, as far as it decides them. */
export interface SaidOfSetups {
  kind: 'together' | 'apart';
  places: string[];
}

/** A place with the lab that measured it. */
export type LabPlace = GivenPlace & Pick<StudyGiven, 'lab' | 'lab_scatter' | 'reference'>;

/** Places where everything but the interface is the same. */
export interface RankedSetup {
  /** of its first place, which stays as it is */
  key: string;
  name: string;
  /** null for this lab's own */
  lab: string | null;
  places: LabPlace[];
  /** true where a person joined what was recognised as different, or parted what was recognised as the same */
  is_said: boolean;
}

/** The places of some studies. */
export const placesOf = (studies: StudyGiven[]): LabPlace[] =>
  studies.flatMap(({ places, lab, lab_scatter, reference }) => places.map((p) => ({ ...p, lab, lab_scatter, reference })));

/**
 * Set-ups of some places: the same lab, rig, part, cooler, pressure class and load, unless a person said otherwise. What was said later goes
 * before what was said earlier. What is joined takes with it all that is recognised as the same, also what comes later; what is split off
 * stands by itself.
 */
export function setupsOf(places: LabPlace[], said: SaidOfSetups[]): RankedSetup[] {
  const recognised = [...grouped(places, sameBut).values()].flatMap(byPower);
  const recognisedAs = new Map(recognised.flatMap((alike, i) => alike.map((p) => [p.key, i])));
  const labels = new Map([...recognisedAs].map(([key, i]) => [key, `recognised ${i}`]));
  for (const [i, { kind, places: keys }] of said.entries()) {
    const here = keys.filter((k) => labels.has(k));
    const joined = new Set(here.map((k) => labels.get(k)));
    for (const [key, label] of labels) if (kind === 'apart' ? here.includes(key) : joined.has(label)) labels.set(key, `said ${i}`);
  }
  const found = [...grouped(places, (p) => labels.get(p.key) ?? '').values()].map((own): RankedSetup => {
    const first = recognisedAs.get(own[0].key) ?? 0;
    const isSaid = own.length !== recognised[first].length || own.some((p) => recognisedAs.get(p.key) !== first);
    return { key: own[0].key, name: '', lab: own[0].lab, places: own, is_said: isSaid };
  });
  return named(found);
}

/** What is the same in a set-up, but for the power. */
const sameBut = (p: LabPlace): string =>
  JSON.stringify([p.lab, p.rig_id, p.part, p.cooler_id, p.area_mm2, p.contact, p.pressure, p.load?.trim().toLowerCase() ?? null]);

/** Places of the same everything, told apart by their power. */
function byPower(places: LabPlace[]): LabPlace[][] {
  const groups: LabPlace[][] = [];
  for (const p of [...places].sort((a, b) => (a.power_w ?? 0) - (b.power_w ?? 0))) {
    const last = groups.at(-1);
    const [least, own] = [last?.[0].power_w ?? 0, p.power_w ?? 0];
    if (last && own <= least * SAME_POWER) last.push(p);
    else groups.push([p]);
  }
  return groups;
}

/** The power of a place or a set-up, W, as it is told; empty where none was logged. */
export const powerWords = (power_w: number | null): string => (power_w === null ? '' : `${write(power_w, power_w < 10 ? 1 : 0)} W`);

/** Names the set-ups by as much of them as tells them apart. */
function named(setups: RankedSetup[]): RankedSetup[] {
  const more: ((p: LabPlace) => string)[] = [
    (p) => (p.lab === null ? '' : p.lab || 'another lab'),
    (p) => p.cooler ?? '',
    (p) => p.load ?? '',
    (p) => powerWords(p.power_w),
    (p) => (p.area_mm2 === null ? '' : `${write(p.area_mm2, 0)} mm²`),
    (p) => (p.pressure === null ? '' : PRESSURE_CLASSES[p.pressure].name),
    (p) => p.part,
    (p) => p.study,
  ];
  const names = setups.map(({ places: [p] }) => [p.rig]);
  for (const of of more) {
    const clashing = [
      ...grouped(
        setups.map((_, i) => i),
        (i) => names[Number(i)].join(),
      ).values(),
    ].filter((same) => same.length > 1);
    for (const same of clashing) {
      const told = same.map((i) => of(setups[i].places[0]));
      if (new Set(told).size > 1) for (const [k, i] of same.entries()) if (told[k] !== '') names[i].push(told[k]);
    }
  }
  // another lab's name always stands there
  return setups.map((s, i) => {
    const lab = s.lab === null ? [] : [s.lab || 'another lab'];
    return { ...s, name: [...names[i], ...lab.filter((l) => !names[i].includes(l))].join(', ') };
  });
}

/** What a set-up is, in words. */
export function setupWords({ places }: Pick<RankedSetup, 'places'>): string {
  const all = (of: (p: LabPlace) => string) => list([...new Set(places.map(of).filter((w) => w !== ''))]);
  const powers = places.flatMap((p) => p.power_w ?? []);
  const power = powers.length === 0 ? '' : [...new Set([Math.min(...powers), Math.max(...powers)].map(powerWords))].join(' to ');
  return [
    all((p) => p.part),
    all((p) => (p.area_mm2 === null ? '' : `${write(p.area_mm2, 0)} mm²`)),
    all((p) => p.cooler ?? ''),
    all((p) => p.load ?? ''),
    power,
    all((p) => (p.pressure === null ? '' : PRESSURE_CLASSES[p.pressure].name)),
  ]
    .filter((w) => w !== '')
    .join(' · ');
}
