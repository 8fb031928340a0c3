import { continuedFraction } from './gamma';

/** Rational approximations by ranges of |x|: numerator and denominator, highest power first. */
const MIDDLE = [
  [0.06568233791820745, 2.2352520354606837, 161.02823106855587, 1067.6894854603709, 18154.98125334356],
  [1, 47.202581904688245, 976.0985517377767, 10260.932208618979, 45507.78933502673],
];
const FLANK = [
  [
    1.0765576773720192e-8, 0.39894151208813466, 8.883149794388377, 93.50665613217785, 597.2702763948002, 2494.5375852903726,
    6848.190450536283, 11602.65143764735, 9842.714838383978,
  ],
  [
    1, 22.266688044328117, 235.387901782625, 1519.3775994075547, 6485.558298266761, 18615.571640885097, 34900.95272114598,
    38912.00328609327, 19685.429676859992,
  ],
];
function polynomial(coefficients: number[], x: number): number {
  let value = 0;
  for (const c of coefficients) value = value * x + c;
  return value;
}

const ratio = ([above, below]: number[][], x: number) => polynomial(above, x) / polynomial(below, x);

/**
 * P(Z ≤ x) for a standard normal Z, to a double's last digits also far out in the lower tail. Source: W. J. Cody, "Rational Chebyshev
 * approximations for the error function", Math. Comp. 23 (1969); beyond 5.66 Laplace's continued fraction.
 */
export function normalCdf(x: number): number {
  const y = Math.abs(x);
  if (y <= 0.67448975) return 0.5 + x * ratio(MIDDLE, x * x);
  const below = y <= 5.656854249492381 ? ratio(FLANK, y) : 1 / (Math.sqrt(2 * Math.PI) * continuedFraction(y, (n) => [n, y]));
  // e^(−y²/2) in two parts, so that the square keeps its digits
  const coarse = Math.trunc(y * 16) / 16;
  const tail = y > 40 ? 0 : Math.exp(-0.5 * coarse * coarse) * Math.exp(-0.5 * (y - coarse) * (y + coarse)) * below;
  return x > 0 ? 1 - tail : Number.isNaN(x) ? x : tail;
}

const CENTRE = [
  [
    2509.0809287301227, 33430.57558358813, 67265.7709270087, 45921.95393154987, 13731.69376550946, 1971.5909503065513, 133.14166789178438,
    3.3871328727963665,
  ],
  [
    5226.495278852546, 28729.085735721943, 39307.89580009271, 21213.794301586597, 5394.196021424751, 687.1870074920579, 42.31333070160091,
    1,
  ],
];
const NEAR = [
  [
    0.0007745450142783414, 0.022723844989269184, 0.2417807251774506, 1.2704582524523684, 3.6478483247632045, 5.769497221460691,
    4.630337846156546, 1.4234371107496835,
  ],
  [
    1.0507500716444169e-9, 0.0005475938084995345, 0.015198666563616457, 0.14810397642748008, 0.6897673349851, 1.6763848301838038,
    2.053191626637759, 1,
  ],
];
const FAR = [
  [
    2.0103343992922881e-7, 0.000027115555687434876, 0.0012426609473880784, 0.026532189526576124, 0.29656057182850487, 1.7848265399172913,
    5.463784911164114, 6.657904643501103,
  ],
  [
    2.0442631033899397e-15, 1.421511758316446e-7, 0.000018463183175100548, 0.0007868691311456133, 0.014875361290850615, 0.1369298809227358,
    0.599832206555888, 1,
  ],
];

/**
 * The x with P(Z ≤ x) = p for a standard normal Z, to about 1e-16 of its size. Source: M. J. Wichura, "Algorithm AS 241: the percentage
 * points of the normal distribution", Appl. Statist. 37 (1988).
 */
export function normalQuantile(p: number): number {
  if (!(p >= 0 && p <= 1)) return Number.NaN;
  const q = p - 0.5;
  if (Math.abs(q) <= 0.425) return q * ratio(CENTRE, 0.180625 - q * q);
  const tail = q < 0 ? p : 1 - p;
  if (tail === 0) return q < 0 ? Number.NEGATIVE_INFINITY : Number.POSITIVE_INFINITY;
  const r = Math.sqrt(-Math.log(tail));
  const x = r <= 5 ? ratio(NEAR, r - 1.6) : ratio(FAR, r - 5);
  return q < 0 ? -x : x;
}
