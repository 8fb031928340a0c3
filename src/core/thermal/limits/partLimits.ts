/** A part of a device with the sensors that tell its temperature and the limit it must keep. */
export interface PartLimit {
  part: string;
  sensors: string[];
  /** °C */
  limit_c: number;
}

/** How far a part stays from its limit, told by its hottest sensor. */
export interface PartMargin {
  part: string;
  sensor: string;
  /** rise of that sensor over the room, K */
  rise_k: number;
  /** K left in a room of the stated temperature; below zero the limit is passed */
  margin_k: number;
}

/**
 * Room that each part of a device leaves to its own limit; parts none of whose sensors was read are left out.
 *
 * All parts are told for one room, so that which of them is nearest to its limit does not depend on the weather.
 * @param sensors mean rise of each sensor over the window, K
 * @param room_c °C
 */
export const partMargins = (sensors: { name: string; rise_k: number | null }[], limits: PartLimit[], room_c: number): PartMargin[] =>
  limits.flatMap(({ part, sensors: names, limit_c }) => {
    const own = sensors.flatMap((s) => (s.rise_k !== null && names.includes(s.name) ? [{ sensor: s.name, rise_k: s.rise_k }] : []));
    if (own.length === 0) return [];
    const hottest = own.reduce((a, b) => (b.rise_k > a.rise_k ? b : a));
    return [{ part, ...hottest, margin_k: limit_c - room_c - hottest.rise_k }];
  });

/** The part that decides: the one with the least room to its limit; null without any. */
export const worstMargin = (margins: PartMargin[]): PartMargin | null =>
  margins.reduce<PartMargin | null>((worst, m) => (worst && worst.margin_k <= m.margin_k ? worst : m), null);
