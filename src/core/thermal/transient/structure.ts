import { CourseResponse } from '#core/signal/course/courseResponse';
import { logBins } from '#core/signal/course/logBins';
import { binErrors } from '#core/signal/course/readingErrors';
import type { Trace } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import { cauerLadder, cumulativeStructure } from './cauer';
import { fewLayers } from './fewLayers';
import type { BinnedMount } from './parting';
import { timeConstantSpectrum } from './spectrum';
import { takeStep } from './takeStep';
import { darkPart, MISFIT, toldLayers } from './toldLayers';
import type { StepRecord, ThermalStructure, TransientFinding, TransientOptions } from './types';

/** Share of the whole that may come faster than the log can follow: beyond the first it is said, beyond the second nothing is told. */
const DARK = 0.05;
const TOO_DARK = 0.3;
/** Share of the whole below which no mean is trusted: room and the lumping of bodies are not steadier than that. */
const TRUSTED_SHARE = 1.5e-3;
/** The spectrum is drawn by readings alone: what is not trusted would smooth its end away. */
const DRAWN_SHARE = 3e-4;

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
  const { interval_s, power_w, moment_sd_s } = step;
  const bins = logBins(step.t, step.k_per_w);
  const rise = bins.mean.reduce((most, v) => Math.max(most, v), 0);
  const { scatter, resolution, hanging } = step.errors;
  const errorsBeside = (share: number) =>
    binErrors(bins, { scatter: scatter / power_w, resolution: resolution / power_w, hanging }, share * rise);
  const errors = errorsBeside(TRUSTED_SHARE);
  const binned = { bins, errors, response: new CourseResponse(bins, step.course), interval_s, moment_sd_s };
  const duration_s = step.t[step.t.length - 1];
  const spectrum = timeConstantSpectrum(bins, binned.response, errorsBeside(DRAWN_SHARE), interval_s / 2, 3 * duration_s);
  const tried = fewLayers(binned, spectrum);
  const findings = [...step.findings];
  const refused = (code: TransientFinding['code'], sentence: string): TransientReading => ({
    ...{ step, structure: null, mount: null },
    findings: [...findings, { code, severity: 'refuse', sentence }],
  });
  if (tried.length === 0)
    return refused('few_samples', 'The readings after the step are too few, or too scattered, to tell a single layer.');
  const { ladder, fit } = tried[0];
  const dark = darkPart(ladder, interval_s);
  const said = `Logged every ${write(interval_s, interval_s < 1 ? 2 : 1)} s, ${write(100 * dark.share, 0)} % of the rise comes faster than the log can follow`;
  if (dark.share > TOO_DARK)
    return refused(
      'too_slow',
      `${said}: layers nearer to the sensor than ${write(dark.k_per_w, 3)} K/W of ${write(dark.whole, 3)} K/W cannot be told. Log every ${writeInterval(interval_s / 10)} s or faster.`,
    );
  const misfit = fit.chi2 / fit.df;
  if (misfit > MISFIT)
    return refused(
      'does_not_fit',
      `No body of a few layers answers to this power as the readings do: they lie ${write(Math.sqrt(misfit), 1)} times further from it than their scatter. Something else moved, such as the fan, the room or a power that the log does not show.`,
    );
  if (dark.share > DARK)
    findings.push({
      code: 'dark_part',
      severity: 'warn',
      sentence: `${said}: layers nearer than ${write(dark.k_per_w, 3)} K/W are one here.`,
    });
  const { layers, total } = toldLayers(fit, duration_s, dark.nodes);
  if (!total)
    findings.push({
      code: 'not_at_end',
      severity: 'warn',
      sentence: `The log ends before the temperature does, ${write(rise, 3)} K/W above its beginning: the whole is more than that, and how much the last layer holds up cannot be told. Log until nothing rises any more.`,
    });
  return {
    step: { ...step, findings },
    structure: {
      spectrum,
      curve: cumulativeStructure(cauerLadder(positive(spectrum))),
      ...{ layers, total, misfit, dark_k_per_w: dark.k_per_w, findings },
    },
    mount: { ...binned, duration_s, ladders: tried.map((t) => t.ladder) },
    findings,
  };
}

/** The stages that hold anything. */
function positive({ R, tau }: { R: number[]; tau: number[] }) {
  const total = sum(R);
  const kept = R.flatMap((r, j) => (r > 1e-9 * total ? [j] : []));
  return { R: kept.map((j) => R[j]), tau: kept.map((j) => tau[j]) };
}

const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);

const writeInterval = (s: number) => String(Number(s.toPrecision(1)));
