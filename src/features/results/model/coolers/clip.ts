import 'reflect-metadata';
import { IsNumber, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';

/** Largest clip that is taken, bytes. */
export const MOST_CLIP_BYTES = 8 * 1_048_576;

export type ClipKind = 'audio/wav' | 'audio/ogg' | 'audio/flac' | 'audio/mpeg' | 'audio/mp4';

/** What is said about a clip. */
export class ClipAbout {
  @IsOptional()
  @Max(100_000, { message: 'The fan speed should be between 1 and 100000 rpm.' })
  @Min(1, { message: 'The fan speed should be between 1 and 100000 rpm.' })
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The fan speed is a number of rpm.' })
  rpm?: number | null;

  @IsOptional()
  @Max(140, { message: 'The level should be between 0 and 140 dB.' })
  @Min(0, { message: 'The level should be between 0 and 140 dB.' })
  @IsNumber({ allowNaN: false, allowInfinity: false }, { message: 'The level is a number of dB.' })
  level_db?: number | null;

  @IsOptional()
  @MaxLength(200, { message: 'A note on the sound holds up to 200 characters.' })
  @IsString({ message: 'A note on the sound is a text.' })
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
