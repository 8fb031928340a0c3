import { continuedFraction } from './gamma';

/** Rational approximations by ranges of |x|: numerator and denominator, highest power first. */
const MIDDLE = [
  [0.065682337918207449113, 2.2352520354606839287, 161.02823106855587881, 1067.6894854603709582, 18154.981253343561249],
  [1, 47.20258190468824187, 976.09855173777669322, 10260.932208618978205, 45507.789335026729956],
];
const FLANK = [
  [
    1.0765576773720192317e-8, 0.39894151208813466764, 8.8831497943883759412, 93.506656132177855979, 597.27027639480026226, 2494.5375852903726711,
    6848.1904505362823326, 11602.651437647350124, 9842.7148383839780218,
  ],
  [
    1, 22.266688044328115691, 235.38790178262499861, 1519.377599407554805, 6485.558298266760755, 18615.571640885098091, 34900.952721145977266,
    38912.003286093271411, 19685.429676859990727,
  ],
];
function polynomial(coefficients: number[], x: number): number {
  let value = 0;
  for (const c of coefficients) value = value * x + c;
  return value;
}

const ratio = ([above, below]: number[][], x: number) => polynomial(above, x) / polynomial(below, x);

/**
 * P(Z ≤ x) for a standard normal Z, to a double's last digits also far out in the lower tail.
 * Source: W. J. Cody, "Rational Chebyshev approximations for the error function", Math. Comp. 23 (1969); beyond 5.66 Laplace's continued fraction.
 */
export function normalCdf(x: number): number {
  const y = Math.abs(x);
  if (y <= 0.67448975) return 0.5 + x * ratio(MIDDLE, x * x);
  const below = y <= 5.656854249492380195 ? ratio(FLANK, y) : 1 / (Math.sqrt(2 * Math.PI) * continuedFraction(y, (n) => [n, y]));
  // e^(−y²/2) in two parts, so that the square keeps its digits
  const coarse = Math.trunc(y * 16) / 16;
  const tail = y > 40 ? 0 : Math.exp(-0.5 * coarse * coarse) * Math.exp(-0.5 * (y - coarse) * (y + coarse)) * below;
  return x > 0 ? 1 - tail : Number.isNaN(x) ? x : tail;
}

const CENTRE = [
  [
    2509.0809287301226727, 33430.575583588128105, 67265.770927008700853, 45921.953931549871457, 13731.693765509461125, 1971.5909503065514427,
    133.14166789178437745, 3.387132872796366608,
  ],
  [
    5226.495278852545925, 28729.085735721942674, 39307.89580009271061, 21213.794301586595867, 5394.1960214247511077, 687.1870074920579083,
    42.313330701600911252, 1,
  ],
];
const NEAR = [
  [
    7.7454501427834140764e-4, 0.0227238449892691845833, 0.24178072517745061177, 1.27045825245236838258, 3.64784832476320460504, 5.7694972214606914055,
    4.6303378461565452959, 1.42343711074968357734,
  ],
  [
    1.05075007164441684324e-9, 5.475938084995344946e-4, 0.0151986665636164571966, 0.14810397642748007459, 0.68976733498510000455, 1.6763848301838038494,
    2.05319162663775882187, 1,
  ],
];
const FAR = [
  [
    2.01033439929228813265e-7, 2.71155556874348757815e-5, 0.0012426609473880784386, 0.026532189526576123093, 0.29656057182850489123, 1.7848265399172913358,
    5.4637849111641143699, 6.6579046435011037772,
  ],
  [
    2.04426310338993978564e-15, 1.4215117583164458887e-7, 1.8463183175100546818e-5, 7.868691311456132591e-4, 0.0148753612908506148525, 0.13692988092273580531,
    0.59983220655588793769, 1,
  ],
];

/**
 * The x with P(Z ≤ x) = p for a standard normal Z, to about 1e-16 of its size.
 * Source: M. J. Wichura, "Algorithm AS 241: the percentage points of the normal distribution", Appl. Statist. 37 (1988).
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
