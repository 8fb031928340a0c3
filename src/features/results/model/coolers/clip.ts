import { Amount, Maybe, Text } from '#rules/rules';

/** Largest clip that is taken, bytes. */
export const MOST_CLIP_BYTES = 8 * 1_048_576;

export type ClipKind = 'audio/wav' | 'audio/ogg' | 'audio/flac' | 'audio/mpeg' | 'audio/mp4';

/** What is said about a clip. */
export class ClipAbout {
  @Maybe(Amount(1, 100_000, 'The fan speed should be between 1 and 100000 rpm.'))
  rpm?: number | null;

  @Maybe(Amount(0, 140, 'The level should be between 0 and 140 dB.'))
  level_db?: number | null;

  @Maybe(Text(0, 200, 'A note on the sound holds up to 200 characters.'))
  note?: string;
}

/** What the first bytes say a clip is; null where it is none that browsers play. */
export function clipKind(bytes: Uint8Array): ClipKind | null {
  const text = (from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to));
  if (text(0, 4) === 'RIFF' && text(8, 12) === 'WAVE') return 'audio/wav';
  if (text(0, 4) === 'OggS') return 'audio/ogg';
  if (text(0, 4) === 'fLaC') return 'audio/flac';
  if (text(4, 8) === 'ftyp') return 'audio/mp4';
  // an ID3 tag, or the eleven set bits of a frame
  if (text(0, 3) === 'ID3' || (bytes[0] === 0xff && (bytes[1] & 0xe6) === 0xe2)) return 'audio/mpeg';
  return null;
}
