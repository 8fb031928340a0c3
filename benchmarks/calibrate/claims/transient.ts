import { seededRandom } from '#core/stats/random';
import type { CauerLadder } from '#core/thermal/transient/cauer';
import { partingOf } from '#core/thermal/transient/parting';
import { readTransient } from '#core/thermal/transient/structure';
import { type StepLog, stepLog } from '../../../tests/stepLog';
import { CAREFUL, type Claim, NOTHING, oneOf } from './types';

const BODIES: CauerLadder[] = [
  { R: [0.06, 0.08, 0.16], C: [12, 90, 420] },
  { R: [0.12, 0.05, 0.2], C: [20, 150, 600] },
  { R: [0.1, 0.3], C: [30, 500] },
  { R: [0.05, 0.12, 0.2], C: [12, 60, 500] },
];
const readStep = (body: CauerLadder, given: StepLog) =>
  readTransient(stepLog(body, given), { step: 'heating', sensor: null, power_w: null });

function layers(given: (u: () => number) => StepLog): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const body = oneOf(BODIES, random.uniform());
    const { structure } = readStep(body, { ...given(() => random.uniform()), seed });
    if (!structure) return NOTHING;
    if (structure.layers.length !== body.R.length) return { said: 1, held: 0, declined: false };
    const held = structure.layers.filter((l, i) => l.least !== null || Math.abs(l.r.value - body.R[i]) < 1.96 * l.r.se).length;
    return { said: structure.layers.length, held, declined: false };
  };
}

function parting(differ: boolean): Claim['run'] {
  return (seed) => {
    const random = seededRandom(seed);
    const u = () => random.uniform();
    const body = oneOf(BODIES, u());
    const k = Math.floor(u() * body.R.length);
    const by = u() < 0.5 ? 1.2 + 0.4 * u() : 1 / (1.2 + 0.4 * u());
    const other = differ ? { R: body.R.map((r, i) => (i === k ? r * by : r)), C: body.C } : body;
    const interval_s = 1 / (2 + Math.floor(19 * u()));
    const log = (): StepLog => ({ interval_s, ramp_s: 2 * u(), rest_k: 3 * (2 * u() - 1), noise_k: 0.02 + 0.1 * u(), powerNoise_w: u() });
    const [a, b] = [readStep(body, { ...log(), seed: 2 * seed }), readStep(other, { ...log(), seed: 2 * seed + 1 })];
    const told = a.mount && b.mount ? partingOf(a.mount, b.mount) : null;
    if (!told) return NOTHING;
    if (!differ) return { said: 1, held: told.kind === 'alike' ? 1 : 0, declined: false };
    const sum = (n: number) => body.R.slice(0, n).reduce((x, y) => x + y, 0);
    const [truth, whole] = [sum(k), sum(body.R.length)];
    const there = told.within === null ? Math.abs((told.at?.value ?? 99) - truth) < 0.05 * whole : truth < told.within + 0.02 * whole;
    return { said: 1, held: told.kind === 'one_layer' && there ? 1 : 0, declined: false };
  };
}

const subject = 'layers' as const;
export const TRANSIENT: Claim[] = [
  {
    subject,
    claim: 'resistances of the layers: 95 % intervals, careful',
    condition: 'clean step at 10 Hz',
    promised: CAREFUL,
    cases: 60,
    clean: true,
    run: layers(() => ({})),
  },
  {
    ...{ subject, claim: 'resistances of the layers: 95 % intervals, careful', promised: CAREFUL, cases: 60 },
    condition: 'power rising in up to 2 s, start up to 3 K off, quiet to noisy sensor in steps of 0.1 K, 10 Hz',
    run: layers((u) => ({ ramp_s: 2 * u(), rest_k: 3 * (2 * u() - 1), noise_k: 0.01 + 0.1 * u(), powerNoise_w: u() })),
  },
  {
    subject,
    claim: 'where two mounts part: the right layer',
    condition: 'one layer 20 to 60 % off, as above, 2 to 20 Hz',
    promised: [80, 100],
    cases: 40,
    run: parting(true),
  },
  { subject, claim: 'two equal mounts: alike', condition: 'as above', promised: [95, 100], cases: 40, run: parting(false) },
];
