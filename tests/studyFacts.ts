import type { RunFact, StudyFacts } from '#features/results/model/facts';

let next = 1;

/** One run as a comparison sees it; what is not said is as usual as can be. */
export function runFact(specimen: string, mount: number, rise: number, more: Partial<RunFact> = {}): RunFact {
  return {
    ...{
      run_id: next++,
      run: 1,
      mount_id: mount + 100 * specimen.charCodeAt(0),
      mount,
      specimen,
      rig: 'North',
      day: `2026-06-0${mount}`,
      load: null,
    },
    ...{
      valid: true,
      r_valid: true,
      censored: false,
      events: [],
      power_w: 140,
      exhaust_rise_k: null,
      margins: [],
      undecided: [],
      mount_reason: null,
      run_reason: null,
    },
    ...more,
    values: { rise, r_k_per_w: rise / 140, ...more.values },
  };
}

/** A study of those runs, its first specimen the reference. */
export function studyFacts(runs: RunFact[], more: Partial<StudyFacts> = {}): StudyFacts {
  const names = [...new Set(runs.map((r) => r.specimen))];
  return {
    ...{
      study_id: 1,
      title: 'Pastes',
      question: '',
      reference: names[0] ?? null,
      runs,
      loads: [],
      margin_k: 1,
      main_outcome: 'rise' as const,
      margins: {},
      confidence: 0.95,
    },
    specimens: names.map((name, i) => ({
      ...{
        id: i + 1,
        name,
        position: i,
        kind: 'paste',
        fixed: false,
        levels: null,
        cost: null,
        minutes: null,
        tries: 0,
        failed: 0,
        mounts_planned: 3,
      },
    })),
    ...{
      scatter: 'auto',
      family: 'all',
      block: null,
      design: 'one_factor',
      ambient_school: 'difference',
      borrowed: {},
      default_mount_sd: 0.5,
      currency: null,
      unplanned_look: null,
    },
    ...{ instruments: [], ages: [], limits_room_c: null, limits_unread: null, factors: ['material', null] },
    sound: { floor_db: null, distance_m: null, at_m: null, target_db: null, weighting: 'A' },
    ...more,
  };
}
