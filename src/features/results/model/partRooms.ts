import { mean } from '#core/stats/moments';
import { write } from '#core/text/words';
import { type PartMargin, worstMargin } from '#core/thermal/limits/partLimits';
import type { RunFact, StudyFacts } from './facts';

/** Room of every part to its own limit, by specimen, and the part that decides. */
export interface PartRooms {
  room_c: number;
  parts: string[];
  specimens: { name: string; position: number; mounts: number; rooms: (number | null)[]; decides: string }[];
  sentences: string[];
}

/**
 * How far each part stays from its limit under each specimen, each mount counting once; null where the plan states no limits or none was
 * read.
 * @param load name of the load that is looked at; null for the runs of all
 */
export function partRooms(facts: StudyFacts, load: string | null = null): PartRooms | null {
  if (facts.limits_room_c === null) return null;
  const counted = facts.runs.filter(
    (r) => r.valid && r.mount_reason === null && r.run_reason === null && r.margins.length > 0 && (load === null || r.load === load),
  );
  const parts = [...new Set(counted.flatMap((r) => r.margins.map((m) => m.part)))];
  const specimens = facts.specimens.flatMap((s) => {
    const own = counted.filter((r) => r.specimen === s.name);
    if (own.length === 0) return [];
    const rooms = parts.map((part) => meanOfMounts(own, (r) => r.margins.find((m) => m.part === part)?.margin_k ?? null));
    const worst = worstMargin(
      parts.flatMap((part, i): PartMargin[] => (rooms[i] === null ? [] : [{ part, sensor: '', rise_k: 0, margin_k: rooms[i] }])),
    );
    return worst
      ? [{ name: s.name, position: s.position, mounts: new Set(own.map((r) => r.mount_id)).size, rooms, decides: worst.part }]
      : [];
  });
  if (specimens.length === 0) return null;
  return { room_c: facts.limits_room_c, parts, specimens, sentences: sentencesOf(facts, counted, parts, specimens) };
}

function meanOfMounts(runs: RunFact[], of: (r: RunFact) => number | null): number | null {
  const mounts = [...new Set(runs.map((r) => r.mount_id))].flatMap((id) => {
    const values = runs.filter((r) => r.mount_id === id).flatMap((r) => of(r) ?? []);
    return values.length === 0 ? [] : [mean(values)];
  });
  return mounts.length === 0 ? null : mean(mounts);
}

/** Which part decides under which specimen, and where the temperature alone would have said otherwise. */
function sentencesOf(facts: StudyFacts, runs: RunFact[], parts: string[], specimens: PartRooms['specimens']): string[] {
  const roomOf = (s: PartRooms['specimens'][number]) => s.rooms[parts.indexOf(s.decides)] as number;
  const told = specimens.map((s) => {
    const room = roomOf(s);
    return `${s.name}: ${s.decides} decides, ${write(Math.abs(room), 1)} K ${room >= 0 ? 'below' : 'above'} its limit in a room of ${write(facts.limits_room_c ?? 0, 0)} °C.`;
  });
  const risen = specimens.flatMap((s) => {
    const rise = meanOfMounts(
      runs.filter((r) => r.specimen === s.name),
      (r) => r.values.rise ?? null,
    );
    return rise === null ? [] : [{ ...s, rise }];
  });
  if (risen.length < 2) return told;
  const coolest = risen.reduce((a, b) => (b.rise < a.rise ? b : a));
  const safest = risen.reduce((a, b) => (roomOf(b) > roomOf(a) ? b : a));
  if (coolest.name === safest.name) return told;
  return [
    ...told,
    `By ΔT alone ${coolest.name} leads; by the nearest limit ${safest.name} does, with ${write(roomOf(safest), 1)} K against ${write(roomOf(coolest), 1)} K: ${coolest.decides} under ${coolest.name} decides.`,
  ];
}
