/** Seeded pseudo-random numbers: the same seed gives the same sequence on every machine. */

export interface Random {
  /** uniform on [0, 1) */
  uniform(): number;
  /** standard normal */
  normal(): number;
}

/**
 * Generator xoshiro128** (Blackman & Vigna 2018), its state filled from the seed by splitmix32;
 * normal deviates by the polar method (Marsaglia & Bray 1964).
 */
export function seededRandom(seed: number): Random {
  let mix = seed >>> 0;
  const splitmix = () => {
    mix = (mix + 0x9e3779b9) >>> 0;
    let z = mix;
    z = Math.imul(z ^ (z >>> 16), 0x21f0aaad);
    z = Math.imul(z ^ (z >>> 15), 0x735a2d97);
    return (z ^ (z >>> 15)) >>> 0;
  };
  let s0 = splitmix() | 0;
  let s1 = splitmix() | 0;
  let s2 = splitmix() | 0;
  let s3 = splitmix() | 0;
  const next = () => {
    const x = Math.imul(s1, 5);
    const result = Math.imul((x << 7) | (x >>> 25), 9) >>> 0;
    const t = s1 << 9;
    s2 ^= s0;
    s3 ^= s1;
    s1 ^= s2;
    s0 ^= s3;
    s2 ^= t;
    s3 = (s3 << 11) | (s3 >>> 21);
    return result;
  };
  const uniform = () => ((next() >>> 5) * 67108864 + (next() >>> 6)) / 2 ** 53;
  let spare: number | null = null;
  const normal = () => {
    if (spare !== null) {
      const kept = spare;
      spare = null;
      return kept;
    }
    for (;;) {
      const u = 2 * uniform() - 1;
      const v = 2 * uniform() - 1;
      const r = u * u + v * v;
      if (r === 0 || r >= 1) continue;
      const factor = Math.sqrt((-2 * Math.log(r)) / r);
      spare = v * factor;
      return u * factor;
    }
  };
  return { uniform, normal };
}
