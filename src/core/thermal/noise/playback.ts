/** A clip as it is to be played: how strong it is, how high it peaks, and what level was measured where it was made. */
export interface Clip {
  /** root mean square of its samples, full scale being one */
  rms: number;
  /** largest sample */
  peak: number;
  /** dB; null where none was read */
  level_db: number | null;
}

/** Root mean square and largest sample of all channels of a clip. */
export function strength(channels: Float32Array[]): Pick<Clip, 'rms' | 'peak'> {
  let sum = 0;
  let peak = 0;
  let n = 0;
  for (const channel of channels) {
    for (let i = 0; i < channel.length; i++) {
      sum += channel[i] * channel[i];
      peak = Math.max(peak, Math.abs(channel[i]));
    }
    n += channel.length;
  }
  return { rms: n === 0 ? 0 : Math.sqrt(sum / n), peak };
}

/** Largest sample that is played: a little under full scale, so that none is cut. */
const HEADROOM = 0.95;
/** Strength that matched clips are played at, where none would be cut. */
const PLAYED_RMS = 0.1;

/**
 * Factors by which clips are multiplied, so that they are compared fairly by ear.
 *
 * Matched: all of the same strength, so that only their character is heard. As measured: their strengths differ as their levels do, 20·lg,
 * whatever gain each was taken with. In both, all are turned down together until none is cut.
 * @returns a factor for each; null for one that is silent, or has no level where levels are asked for
 */
export function playbackGains(clips: Clip[], how: 'matched' | 'measured'): (number | null)[] {
  const levels = clips.flatMap((r) => (how === 'measured' && r.level_db !== null ? [r.level_db] : []));
  const loudest = Math.max(...levels);
  const wanted = clips.map((r) => {
    if (!(r.rms > 0)) return null;
    if (how === 'matched') return PLAYED_RMS / r.rms;
    return r.level_db === null ? null : (PLAYED_RMS * 10 ** ((r.level_db - loudest) / 20)) / r.rms;
  });
  const highest = Math.max(0, ...wanted.map((g, i) => (g === null ? 0 : g * clips[i].peak)));
  const down = highest > HEADROOM ? HEADROOM / highest : 1;
  return wanted.map((g) => (g === null ? null : g * down));
}
