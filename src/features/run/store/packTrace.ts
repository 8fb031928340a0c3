/** Readings per stored chunk, and per block of a chunk. */
export const CHUNK = 4096;
export const BLOCK = 64;

/**
 * A channel on its way into the store: all readings as 32-bit floats and the lowest and highest of every block, most significant byte
 * first.
 */
export interface PackedChannel {
  name: string;
  file: string;
  role: string;
  unit: string | null;
  axis: number;
  readings: Uint8Array;
  blocks: Uint8Array;
}

/** A time axis as 64-bit floats, most significant byte first: every time, and that of the first reading of every block. */
export interface PackedAxis {
  t: Uint8Array;
  blocks: Uint8Array;
}

/** A channel as it is stored: readings as floats, and the lowest and highest of each block. */
export function packChannel(about: Omit<PackedChannel, 'readings' | 'blocks'>, values: Float64Array): PackedChannel {
  const readings = Float32Array.from(values);
  const blocks = new Float32Array(2 * Math.ceil(values.length / BLOCK)).fill(Number.NaN);
  for (let b = 0; 2 * b < blocks.length; b++) {
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    const to = Math.min(readings.length, (b + 1) * BLOCK);
    for (let i = b * BLOCK; i < to; i++) {
      if (readings[i] < low) low = readings[i];
      if (readings[i] > high) high = readings[i];
    }
    if (low <= high) {
      blocks[2 * b] = low;
      blocks[2 * b + 1] = high;
    }
  }
  return { ...about, readings: swapped(readings, 4), blocks: swapped(blocks, 4) };
}

/** A time axis as it is stored. */
export function packAxis(t: Float64Array): PackedAxis {
  const blocks = Float64Array.from({ length: Math.ceil(t.length / BLOCK) }, (_, b) => t[b * BLOCK]);
  return { t: swapped(t.slice(), 8), blocks: swapped(blocks, 8) };
}

/** Bytes of a typed array with the most significant first; the array is used up. */
function swapped(values: Float32Array | Float64Array, size: 4 | 8): Uint8Array {
  const bytes = Buffer.from(values.buffer, values.byteOffset, values.byteLength);
  if (size === 4) bytes.swap32();
  else bytes.swap64();
  return new Uint8Array(values.buffer, values.byteOffset, values.byteLength);
}

/** Numbers of stored bytes. */
export function unpackFloats(bytes: Buffer): Float32Array {
  const own = Uint8Array.prototype.slice.call(bytes);
  Buffer.from(own.buffer).swap32();
  return new Float32Array(own.buffer);
}

/** Doubles from stored bytes. */
export function unpackDoubles(bytes: Buffer): Float64Array {
  const own = Uint8Array.prototype.slice.call(bytes);
  Buffer.from(own.buffer).swap64();
  return new Float64Array(own.buffer);
}
