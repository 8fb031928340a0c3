import type { Reduction } from '#core/signal/reduce/types';
import type { PackageRow } from './packageTable';
import { RUN_FIGURES } from './tables';

/** What of a run is computed from its logs: the columns of `runs` that are, and its rows of the tables below it. */
export interface ComputedRows {
  runs: PackageRow;
  sensors: PackageRow[];
  steps: PackageRow[];
  times: PackageRow[];
  findings: PackageRow[];
}

/** The rows of a run as its reduction gives them. */
export function computedRows(run_id: number, reduction: Reduction): ComputedRows {
  const { valid, r_valid, censored, window, ambient_c, ladder = [], times_to, findings, sensors, parts = [] } = reduction;
  const figures = reduction as unknown as Record<string, number | null | undefined>;
  const sensorRow = (role: 'sensor' | 'part') => (s: Reduction['sensors'][number]) => ({
    ...{ run_id, role, name: s.name, mean_c: s.mean_c, max_c: s.max_c, rise_k: s.rise_k, se_k: s.se_k, n_eff: s.n_eff },
  });
  return {
    runs: {
      ...{ id: run_id, valid, r_valid, censored },
      ...Object.fromEntries(RUN_FIGURES.map(({ name }) => [name, figures[name] ?? null])),
      ...{ ambient_c: ambient_c?.mean ?? null, window_start_s: window?.start_s ?? null, window_end_s: window?.end_s ?? null },
    },
    sensors: [...sensors.map(sensorRow('sensor')), ...parts.map(sensorRow('part'))],
    steps: ladder.map(({ clock_mhz, voltage_v, end, temperature_c, held_s }, i) => ({
      ...{ run_id, number: i + 1, clock_mhz, voltage_v, end, temperature_c, held_s },
    })),
    times: (times_to ?? []).map(({ event, s, reached }) => ({ run_id, event, s, reached })),
    findings: findings.map(({ code, severity, message }, i) => ({ run_id, number: i + 1, code, severity, message })),
  };
}
