import type { Finding } from '#core/compare/types';
import { likelyF } from '#core/signal/trace/buildTrace';
import { findGaps } from '#core/signal/trace/quality';
import { ambientProbes, type RiseSeries } from '#core/signal/trace/rise';
import { type Trace, type TraceFile, usable } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import type { Aggregate, ReducedSensor, ReduceOptions, Reduction } from './types';
import type { WindowMean } from './windowMeans';

/** Shares of the data rows left out above which that is more than a note. */
const LEFT_OUT = { reject: 0.2, decide: 0.05, warn: 0.01 } as const;
/** Most columns that a finding names. */
const MOST_NAMED = 40;

/** What was put right in the times of a file. */
function clockFindings(file: string, { changes, steps, coarse_s }: TraceFile['clock']): Finding[] {
  const findings: Finding[] = [];
  for (const { at_s, by_s } of changes) {
    const message = `The times of ${file} jump ${by_s > 0 ? 'back' : 'ahead'} by an hour after ${write(at_s, 0)} s while the readings continue: treated as a change between summer and winter time and removed.`;
    findings.push({ code: 'clock_change', severity: 'warn', message, numbers: { at_s, by_s } });
  }
  if (steps.length > 0) {
    const [{ at_s, by_s }] = steps;
    const more = steps.length > 1 ? `, the first of ${steps.length} such steps` : '';
    const message = `The times of ${file} step back by ${write(by_s, 0)} s after ${write(at_s, 0)} s and do not return${more}. The rows after it are kept as if no time had passed; confirm or correct that.`;
    findings.push({ code: 'clock_step', severity: 'decide', message, numbers: { at_s, by_s } });
  }
  if (coarse_s !== null) {
    const message = `The clock of ${file} steps by ${write(coarse_s, coarse_s < 1 ? 2 : 0)} s while several rows are read: they are spread evenly to the next stamp.`;
    findings.push({ code: 'time_coarse', severity: 'note', message, numbers: { step_s: coarse_s } });
  }
  return findings;
}

/**
 * Findings about the files and channels themselves.
 * A list of checks, one a finding, each with its figure and sentence.
 */
export function traceFindings(trace: Trace): Finding[] {
  const findings: Finding[] = [];
  const add = (code: string, severity: Finding['severity'], message: string, numbers?: Finding['numbers']) =>
    findings.push({ code, severity, message, numbers });

  for (const [file, correlation] of Object.entries(trace.correlated)) {
    const s = trace.clock_offset_s[file];
    add(
      'clock_offset',
      'warn',
      `The clock of ${file} was matched by the load step: ${write(s, 1)} s are added to its times (agreement ${write(correlation, 2)}). Check that it is right.`,
      { offset_s: s },
    );
  }
  for (const { name, rows, kept, clock, unused } of trace.files) {
    findings.push(...clockFindings(name, clock));
    if (unused.length > 0) {
      const named = unused.slice(0, MOST_NAMED).map((u) => `${u.name} (${u.reason})`);
      const more = unused.length > MOST_NAMED ? ` and ${unused.length - MOST_NAMED} more` : '';
      add('column_unused', 'note', `Temperatures of ${name} that are not used: ${named.join('; ')}${more}.`);
    }
    const parts = [
      rows.partial && `${rows.partial} cut off at the end of the file`,
      rows.ragged && `${rows.ragged} with missing or extra cells`,
      rows.repeated && `${rows.repeated} repeating the header`,
      rows.summary && `${rows.summary} of minima, maxima or averages`,
      rows.out_of_order && `${rows.out_of_order} whose time runs back or repeats`,
    ].filter(Boolean);
    const left = rows.partial + rows.ragged + rows.out_of_order;
    const share = left / (kept + left);
    const severity = (Object.keys(LEFT_OUT) as (keyof typeof LEFT_OUT)[]).find((s) => share > LEFT_OUT[s]) ?? 'note';
    const of = left > 0 ? ` That is ${write(100 * share, share < 0.01 ? 2 : 1)} % of its rows of readings.` : '';
    // one row at the end of the file is cut in every log that was copied while it grew
    const plain = left <= 1 ? 'note' : severity;
    if (parts.length > 0) add('rows_left_out', plain, `Rows of ${name} were left out: ${parts.join(', ')}.${of}`, { share });
  }
  for (const c of trace.channels) {
    if (c.guessed_f)
      add('unit_guessed', 'warn', `${c.name} names no unit and is read in °F: only then does it agree with the other sensors.`);
    if (c.role === 'ambient') continue;
    if (c.missing === c.values.length) add('gaps', 'warn', `${c.name} holds no reading at all.`);
    else if (c.died_s !== null)
      add(
        'stuck_sensor',
        'warn',
        `${c.name} died after ${write(c.died_s, 0)} s: it shows impossible values to the end. It is not used in any figure.`,
      );
    else if (c.dead) add('stuck_sensor', 'warn', `${c.name} is dead: it shows an impossible value. It is not used in any figure.`);
    if (c.stuck)
      add('stuck_sensor', 'warn', `${c.name} is stuck: its reading stays the same while the load changes. It is not used in any figure.`);
  }
  const spiky = trace.channels.filter((c) => c.spikes > 0 && !c.dead);
  if (spiky.length > 0) {
    const count = spiky.reduce((n, c) => n + c.spikes, 0);
    add(
      'spikes',
      'note',
      `${count} isolated ${count === 1 ? 'spike' : 'spikes'} in ${spiky.map((c) => c.name).join(', ')} stay in the trace but are left out of means, maxima and slope.`,
      { spikes: count },
    );
  }
  const gappy = trace.channels
    .filter((c) => !c.dead && !c.stuck && c.role !== 'ambient')
    .map((c) => ({ name: c.name, gaps: findGaps(c) }))
    .filter((g) => g.gaps.length > 0);
  if (gappy.length > 0) {
    const longest = Math.max(...gappy.flatMap((g) => g.gaps.map((s) => s.end_s - s.start_s)));
    add(
      'gaps',
      'warn',
      `Readings are missing in ${gappy.map((g) => g.name).join(', ')}; the longest gap lasts ${write(longest, 0)} s. Nothing is drawn across it.`,
      { longest_s: longest },
    );
  }
  return findings;
}

/** Like with like: what the study holds against what the window shows. */
export function heldFindings(
  options: ReduceOptions,
  means: { power: WindowMean | null; fan: WindowMean | null; clock: WindowMean | null },
): Finding[] {
  const findings: Finding[] = [];
  const differs = (
    code: string,
    what: string,
    unit: string,
    got: WindowMean | null,
    want: number | null,
    allowed: number,
    severity: Finding['severity'] = 'warn',
  ) => {
    if (want === null || got === null || Math.abs(got.mean - want) <= allowed) return;
    const digits = unit === 'W' ? 1 : 0;
    findings.push({
      code,
      severity,
      message: `${what} was ${write(got.mean, digits)} ${unit}, not the ${write(want, digits)} ${unit} the study sets (± ${write(allowed, digits)}): not comparable.`,
      numbers: { got: got.mean, held: want },
    });
  };
  differs(
    'power_differs',
    'Power',
    'W',
    means.power,
    options.power_w,
    options.power_tolerance * (options.power_w ?? 0),
    options.power_held ? 'decide' : 'note',
  );
  differs('fan_differs', 'Fan speed', 'rpm', means.fan, options.fan_rpm, Math.max(20, options.fan_tolerance * (options.fan_rpm ?? 0)));
  differs('clock_differs', 'Clock', 'MHz', means.clock, options.clock_mhz, 0.01 * (options.clock_mhz ?? 0));
  const { power } = means;
  if (power && power.mean > 0 && power.sd > 0.02 * power.mean) {
    findings.push({
      code: 'power_unsteady',
      severity: 'warn',
      message: `Power scattered by ${write((100 * power.sd) / power.mean, 1)} % in the window; up to 2 % is steady.`,
      numbers: { sd_w: power.sd },
    });
  }
  return findings;
}

/** The value rests on other sensors than in most mounts of its specimen. */
export function sensorFindings(rises: RiseSeries | null, aggregate: Aggregate, expected: string[] | null): Finding[] {
  if (!rises || !expected || aggregate === 'named') return [];
  const used = rises.sensors.map((s) => s.channel.name);
  const gone = expected.filter((n) => !used.includes(n));
  const added = used.filter((n) => !expected.includes(n));
  if (gone.length === 0 && added.length === 0) return [];
  const parts = [
    gone.length > 0 ? `${gone.join(', ')} ${gone.length === 1 ? 'is' : 'are'} missing` : '',
    added.length > 0 ? `${added.join(', ')} came in` : '',
  ];
  const message = `The value rests on other sensors than in the specimen's other mounts: ${parts.filter(Boolean).join('; ')}. It is not comparable.`;
  return [{ code: 'sensors_differ', severity: 'decide', message }];
}

/** The sensor the run should be judged by cannot be relied on. */
export function primaryFinding(sensor: string | null): Finding {
  const message = `${sensor ?? 'The primary sensor'} should be used for the run but is out of use; the mean of the other sensors replaces it, which is not comparable.`;
  return { code: 'primary_sensor', severity: 'warn', message };
}

/** A study that compares after a fixed time must say after which. */
export const noTimeFinding = (): Finding => ({
  code: 'value_missing',
  severity: 'reject',
  message: 'The study compares by the value after a fixed time, and its plan does not say after how many seconds.',
});

/** Whether there is a room to subtract, and where it comes from. */
export function roomFindings(trace: Trace, options: ReduceOptions): Finding[] {
  const sensors = usable(trace, 'sensor');
  if (ambientProbes(trace).length > 0 || (sensors.length > 0 && sensors.every((s) => s.rise))) return [];
  if (options.room_c === null && !options.rise_wanted) return [];
  if (options.room_c === null) {
    const message = 'No ambient temperature was logged, so there is no ΔT over ambient. Add the room log, or enter one room temperature.';
    return [{ code: 'ambient_missing', severity: 'reject', message }];
  }
  const give = options.room_u_k === null ? '' : ` ± ${write(options.room_u_k, 1)} K`;
  const message = `The room was not logged; one entered value of ${write(options.room_c, 1)} °C${give} is used for the whole run.`;
  return [{ code: 'ambient_typed', severity: 'warn', message }];
}

/** Readings that no part and no room gives: most likely another unit. */
export function unitFindings(trace: Trace, sensors: ReducedSensor[], ambient: Reduction['ambient_c']): Finding[] {
  const findings: Finding[] = [];
  const suspect = (message: string) => findings.push({ code: 'unit_suspect', severity: 'decide', message });
  for (const c of trace.channels.filter((x) => x.doubtful_f))
    suspect(`${c.name} says °C and agrees with the sensors beside it only as °F: give it that unit, or say that it is right.`);
  for (const s of sensors) {
    if (s.mean_c !== null && (s.mean_c > 130 || s.mean_c < -60))
      suspect(`${s.name} reads ${write(s.mean_c, 0)} °C under load, which no such part would survive: is it in °F?`);
  }
  if (ambient && (likelyF(ambient.mean, trace.room.band_c) || ambient.mean < -40))
    suspect(`Ambient reads ${write(ambient.mean, 0)} °C, which is not a room temperature: is it in °F, or another column?`);
  return findings;
}
