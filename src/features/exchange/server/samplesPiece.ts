import { gzipSync } from 'node:zlib';
import { type SampledReadings, samplesText } from '#features/exchange/model/samples';

/** Readings between two times, and what stands above them. */
export interface SamplesPiece {
  head: string;
  readings: SampledReadings[];
  from: number;
  to: number;
  start_ms: number | null;
}

/** Readings pack well at any level; a low one takes half the time. */
const PACKING = { level: 3 };

/** Lines of samples as a piece of a gzip file: pieces one after the other are one file. */
export const samplesPiece = ({ head, readings, from, to, start_ms }: SamplesPiece): Uint8Array =>
  gzipSync(head + samplesText(readings, from, to, start_ms), PACKING);
