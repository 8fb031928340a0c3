import { write } from '../compare/number';
import type { Trace } from '../trace/types';
import { cauerLadder, cumulativeStructure } from './cauer';
import { fewLayers } from './fewLayers';
import { fosterChain } from './fosterFromLadder';
import { layersOf } from './ladderFit';
import { type LogBins, logBins } from './logBins';
import type { BinnedMount } from './parting';
import { timeConstantSpectrum } from './spectrum';
import { takeStep } from './takeStep';
import type { StepRecord, ThermalStructure, TransientFinding, TransientOptions } from './types';

/** Share of the whole that may come faster than the log can follow: beyond the first it is said, beyond the second nothing is told. */
const DARK = 0.05;
const TOO_DARK = 0.3;
/** Share of the whole that may still be on its way at the end of the log. */
const UNDERWAY = 0.05;

export interface TransientReading {
  step: StepRecord | null;
  structure: ThermalStructure | null;
  /** what two mounts are laid over each other by */
  mount: BinnedMount | null;
  findings: TransientFinding[];
}

/** From a log to the structure of what its sensor sits on; a refusal leaves no structure. */
export function readTransient(trace: Trace, options: TransientOptions): TransientReading {
  const { step, findings } = takeStep(trace, options);
  return step ? structureOf(step) : { step, structure: null, mount: null, findings };
}

/**
 * Where heat is held up and where it is stored on its way from the sensor: spectrum, ladder of the fewest layers, cumulative structure.
 * A node stands for a body, so that half of what lies within the body is counted to either of its sides.
 */
export function structureOf(step: StepRecord): TransientReading {
  const { interval_s, samples_before, power_w } = step;
  const duration = step.t[step.t.length - 1];
  const spectrumAt = (bins: LogBins, scatter: number) => timeConstantSpectrum(bins, samples_before, scatter, interval_s / 2, 3 * duration);
  const scattered = logBins(step.t, step.k_per_w, step.noise_k / power_w);
  // readings that hang on each other are worth fewer
  const sd = (step.noise_k / power_w) * Math.sqrt(spectrumAt(scattered, step.noise_k / power_w).excess);
  const bins = logBins(step.t, step.k_per_w, sd);
  const spectrum = spectrumAt(bins, sd);
  const tried = fewLayers({ bins, interval_s, samples_before }, spectrum, sd);
  const refused = (finding: Omit<TransientFinding, 'severity'>): TransientReading => ({
    ...{ step, structure: null, mount: null },
    findings: [...step.findings, { ...finding, severity: 'refuse' }],
  });
  if (tried.length === 0)
    return refused({ code: 'few_samples', sentence: 'The readings after the step are too few, or too scattered, to tell a single layer.' });
  const { ladder, fit } = tried[0];
  const layers = layersOf(fit);
  const total = layers[layers.length - 1].until;
  const chain = fosterChain(ladder);
  const shareOf = (is: (tau: number) => boolean) => chain.R.reduce((sum, r, j) => sum + (is(chain.tau[j]) ? r : 0), 0) / total.value;
  const dark = shareOf((tau) => tau < 2 * interval_s);
  const dark_k_per_w = dark * total.value;
  const findings = [...step.findings];
  const said = `Logged every ${write(interval_s, interval_s < 1 ? 2 : 1)} s, ${write(100 * dark, 0)} % of the rise comes faster than the log can follow`;
  if (dark > TOO_DARK)
    return refused({
      code: 'too_slow',
      sentence: `${said}: layers nearer to the sensor than ${write(dark_k_per_w, 3)} K/W of ${write(total.value, 3)} K/W cannot be told. Log every ${writeInterval(interval_s / 10)} s or faster.`,
    });
  if (dark > DARK) findings.push({ code: 'dark_part', severity: 'warn', sentence: `${said}: layers nearer than ${write(dark_k_per_w, 3)} K/W are one here.` });
  const underway = shareOf((tau) => tau > duration / 2);
  if (underway > UNDERWAY)
    findings.push({
      code: 'not_at_end',
      severity: 'warn',
      sentence: `The log ends before the temperature does: ${write(100 * underway, 0)} % of the whole is known from its beginning alone, and the last layer may be larger.`,
    });
  return {
    step: { ...step, findings },
    structure: {
      spectrum,
      curve: cumulativeStructure(cauerLadder(positive(spectrum))),
      layers,
      ...{ total, dark_k_per_w, findings },
    },
    mount: { bins, interval_s, samples_before, sd, ladders: tried.map((t) => t.ladder) },
    findings,
  };
}

/** The stages that hold anything. */
function positive({ R, tau }: { R: number[]; tau: number[] }) {
  const total = R.reduce((a, b) => a + b, 0);
  const kept = R.flatMap((r, j) => (r > 1e-9 * total ? [j] : []));
  return { R: kept.map((j) => R[j]), tau: kept.map((j) => tau[j]) };
}

const writeInterval = (s: number) => String(Number(s.toPrecision(1)));
