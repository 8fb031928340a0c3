import type { PartLimit } from '#core/thermal/limits/partLimits';

/** Limits of parts as typed, such as "Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110": part, its sensors, and °C. */

const MOST_PARTS = 12;
const RANGE = { min: 30, max: 250 };

/** The limits of a text; null where it cannot be read as such. */
export function readPartLimits(text: string): PartLimit[] | null {
  const entries = text
    .split(/[;\n]/)
    .map((e) => e.trim())
    .filter(Boolean);
  if (entries.length > MOST_PARTS) return null;
  const limits: PartLimit[] = [];
  for (const entry of entries) {
    const match = /^([^:=]{1,40}):([^=]{1,160})=\s*([\d.,]+)\s*(?:°\s*C)?$/.exec(entry);
    const sensors = (match?.[2] ?? '')
      .split(',')
      .map((s) => s.trim())
      .filter(Boolean);
    const limit_c = Number((match?.[3] ?? '').replace(',', '.'));
    const part = match?.[1].trim() ?? '';
    if (!part || sensors.length === 0 || !(limit_c >= RANGE.min && limit_c <= RANGE.max) || limits.some((l) => l.part === part))
      return null;
    limits.push({ part, sensors, limit_c });
  }
  return limits;
}

/** Which named sensors no log has, as a sentence with those there are; null where all are there or nothing was logged yet. */
export function unreadSensors(limits: PartLimit[], logged: string[]): string | null {
  if (logged.length === 0) return null;
  const missing = [...new Set(limits.flatMap((l) => l.sensors))].filter((s) => !logged.includes(s));
  if (missing.length === 0) return null;
  const named = missing.map((s) => `"${s}"`).join(', ');
  return `No run has ${missing.length === 1 ? 'the sensor' : 'the sensors'} ${named} that the plan or the rig names; the logs name ${logged.slice(0, 12).join(', ')}.`;
}

/** What is wrong with a text of limits, as a sentence; null where nothing is. */
export const partLimitsProblem = (text: string): string | null =>
  readPartLimits(text) === null
    ? `Limits are up to ${MOST_PARTS} parts parted by semicolons, each with its sensors and °C from ${RANGE.min} to ${RANGE.max}, such as "Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110".`
    : null;
