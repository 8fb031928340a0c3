/** Height of a cooler in one configuration, mm. */
export interface ConfiguredHeight {
  configuration: string;
  height_mm: number;
}

export const HEIGHTS_WORDS =
  'Heights are separated by semicolons, each a configuration and mm from 1 to 1000, such as "with cover 44.5; without cover 41".';

/** What a cooler's sheet says of its height. */
interface HeightSheet {
  heights?: string;
  measured_height_mm?: number;
  height_mm?: number;
}

/** The heights of a text; null where it cannot be read as such. */
export function readHeightsOf(text: string): ConfiguredHeight[] | null {
  const heights = text
    .split(';')
    .map((e) => e.trim())
    .filter(Boolean)
    .map((e) => /^(.{1,60}?)[\s=:]+(\d+(?:[.,]\d+)?)\s*(?:mm)?$/.exec(e))
    .map((m) => (m ? { configuration: m[1].trim(), height_mm: Number(m[2].replace(',', '.')) } : null));
  return heights.length > 12 || heights.some((h) => !h || !(h.height_mm >= 1 && h.height_mm <= 1000))
    ? null
    : heights.filter((h) => h !== null);
}

/** Heights of a cooler in all its configurations; its measured or stated one where none is told. */
export function coolerHeights({ heights, measured_height_mm, height_mm }: HeightSheet): ConfiguredHeight[] {
  const told = readHeightsOf(heights ?? '') ?? [];
  const own = measured_height_mm ?? height_mm;
  return told.length > 0 || own == null ? told : [{ configuration: '', height_mm: own }];
}

/** Which configurations do not fit under a room, as a sentence; null where all do or nothing is known. */
export function heightProblem(cooler: string, sheet: HeightSheet, rig: string, room_mm: number | undefined): string | null {
  if (room_mm == null) return null;
  const high = coolerHeights(sheet).filter((h) => h.height_mm > room_mm);
  if (high.length === 0) return null;
  const named = high.map((h) => `${h.configuration ? `${h.configuration} ` : ''}${h.height_mm} mm`).join(', ');
  return `${cooler} (${named}) is higher than the ${room_mm} mm of room on ${rig}.`;
}
