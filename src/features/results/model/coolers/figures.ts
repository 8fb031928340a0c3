import { write } from '#core/text/words';
import { type Crossing, crossings } from '#core/thermal/coolers/crossings';
import { atLevel, atRise, atSpeed, type Sweep } from '#core/thermal/coolers/sweep';
import type { StudyFacts } from '../facts';
import { soundUnit } from '../sweeps';

/** What coolers are held alike at. */
export type HeldAt = 'noise' | 'speed' | 'rise' | 'full';

export interface CoolerQuestion {
  by: HeldAt;
  /** dB, rpm or K; of no account at full speed */
  at: number;
}

/** A cooler where it is asked about. */
export interface CoolerFigure {
  specimen: string;
  rpm: number | null;
  level: number | null;
  rise: number | null;
  /** why it has no place here, as a sentence; empty where it has one */
  told: string;
}

/** Where coolers are held alike, as a sentence begins with it. */
export function heldWords({ by, at }: CoolerQuestion, unit: string): string {
  switch (by) {
    case 'noise':
      return `At ${write(at, 1)} ${unit}`;
    case 'speed':
      return `At ${write(at, 0)} rpm`;
    case 'rise':
      return `To hold ${write(at, 1)} K`;
    case 'full':
      return 'Each at full speed';
  }
}

/** A cooler at a noise, a speed or its full speed; null beyond what was measured. */
export function stateOf(sweep: Sweep, { by, at }: CoolerQuestion) {
  if (by === 'noise') return atLevel(sweep, at);
  return atSpeed(sweep, by === 'full' ? (sweep.rise?.rpm[1] ?? 0) : at);
}

/** A cooler where it is asked about; what the page shows while the verdicts are on their way. */
export function figureOf(sweep: Sweep, question: CoolerQuestion, { sound }: Pick<StudyFacts, 'sound'>): CoolerFigure {
  const none = { specimen: sweep.specimen, rpm: null, level: null, rise: null };
  if (!sweep.rise || (sweep.missing !== '' && question.by !== 'speed' && question.by !== 'full')) return { ...none, told: sweep.missing };
  if (question.by === 'rise') {
    const needed = atRise(sweep, question.at);
    if (needed) return { specimen: sweep.specimen, rpm: needed.rpm, level: needed.level, rise: question.at, told: '' };
    return { ...none, told: `${sweep.specimen} was not measured at ${write(question.at, 1)} K: ${measuredRises(sweep)}.` };
  }
  const state = stateOf(sweep, question);
  if (state) return { specimen: sweep.specimen, rpm: state.rpm, level: state.level, rise: state.rise, told: '' };
  const [low, high] = sweep.rise.rpm;
  const unit = soundUnit(sound);
  const told =
    question.by === 'noise' && sweep.level
      ? `${sweep.specimen} does not reach ${write(question.at, 1)} ${unit} within its measured speeds, which give ${quietAndLoud(sweep, unit)}.`
      : `${sweep.specimen} was measured from ${write(low, 0)} to ${write(high, 0)} rpm only.`;
  return { ...none, told };
}

function quietAndLoud({ rise, level }: Sweep, unit: string): string {
  if (!rise || !level) return 'no level';
  const at = (rpm: number) => level.a + level.b * Math.log10(rpm);
  return `${write(at(Math.max(rise.rpm[0], level.rpm[0])), 1)} to ${write(at(Math.min(rise.rpm[1], level.rpm[1])), 1)} ${unit}`;
}

function measuredRises({ points }: Sweep): string {
  const rises = points.flatMap((p) => p.rise ?? []);
  return `its speeds gave ${write(Math.min(...rises), 1)} to ${write(Math.max(...rises), 1)} K`;
}

/** Where the curves of coolers cross, as sentences. */
export function crossingSentences(sweeps: Sweep[], { sound, confidence }: Pick<StudyFacts, 'sound' | 'confidence'>): string[] {
  const found: Crossing[] = sweeps.flatMap((a, i) => sweeps.slice(i + 1).flatMap((b) => crossings(a, b, confidence)));
  const percent = Number((100 * confidence).toFixed(1));
  const unit = soundUnit(sound);
  return found.map(({ level, ci, untold, quieter, louder, shared: [low, high] }) => {
    if (untold === 'endless')
      return `From ${write(low, 1)} to ${write(high, 1)} ${unit} ${quieter} and ${louder} are too close to say where one overtakes the other; the curves themselves cross at ${write(level, 1)}.`;
    const about = ci ? ` (${percent} % ${write(ci[0], 1)} to ${write(ci[1], 1)})` : '';
    const alone = untold === 'one_mount' ? ' One of them has only one mount, so its uncertainty is unknown.' : '';
    return `Below ${write(level, 1)} ${unit}${about} ${quieter} is the cooler of the two, above it ${louder}.${alone}`;
  });
}
