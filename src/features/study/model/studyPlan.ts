import { Matches } from 'class-validator';
import type { AmbientPlace } from '#core/signal/trace/types';
import { ChoiceField, DateField, NumberField, RefField, RefsField, TextField, WholeField, YesNoField } from '#rules/fields';
import { ListOf, Maybe, Reads, Text, Wholes } from '#rules/rules';
import { agesProblem } from './ages';
import { FACTORS } from './factors';
import { Load } from './loads';
import { PlannedOutcome } from './outcomes';
import { partLimitsProblem } from './partLimits';

/** A condition that is the same for everything compared. */
export class HeldItem {
  @Text(1, 80, 'A condition has a name of 1 to 80 characters.')
  what!: string;

  @Maybe(Text(0, 80, 'The value of a condition has up to 80 characters.'))
  value?: string | null;

  @Maybe(Text(0, 40, 'A tolerance has up to 40 characters.'))
  tolerance?: string | null;
}

/**
 * The plan of a study: every field stands alone, so that two people change different ones at once. What is not said takes PLAN_DEFAULTS,
 * and the scatter the lab's own history.
 */
export class StudyPlan {
  @TextField('Question', 'Title', 120)
  title?: string | null;

  @TextField('Question', 'Question', 1000, 'What the reader should know at the end.')
  question?: string | null;

  @ChoiceField('Question', 'What varies', { choices: FACTORS, hint: 'Exactly one thing; everything else is kept the same.' })
  varies?: keyof typeof FACTORS | null;

  @ChoiceField('Question', 'Design', {
    choices: { one_factor: 'One factor', two_by_two: '2 × 2: two factors at two levels', before_after: 'Before and after' },
  })
  design?: 'one_factor' | 'two_by_two' | 'before_after' | null;

  @ChoiceField('Question', 'Second factor', { choices: FACTORS, hint: 'Of a 2 × 2.' })
  second_factor?: keyof typeof FACTORS | null;

  @RefField('Question', 'Reference', 'specimens', 'Every verdict is stated against it.')
  reference_id?: number | null;

  @NumberField('Statistics', 'Smallest difference that matters', 'K', [0.01, 50])
  margin_k?: number | null;

  @WholeField('Statistics', 'Mounts of each', '', [1, 200])
  mounts?: number | null;

  @WholeField('Statistics', 'Runs on each mount', '', [1, 50])
  runs?: number | null;

  @NumberField('Statistics', 'Scatter between mounts', 'K', [0.001, 100], 'Standard deviation.')
  mount_sd?: number | null;

  @NumberField('Statistics', 'Scatter between runs', 'K', [0, 100], 'Standard deviation on one mount.')
  run_sd?: number | null;

  @NumberField('Statistics', 'Power', '', [0.5, 0.999], 'Chance of finding a real difference of that size, such as 0.8.')
  power?: number | null;

  @NumberField('Statistics', 'Confidence', '', [0.5, 0.9999], 'Holds for all verdicts together, such as 0.95.')
  confidence?: number | null;

  @ChoiceField('Statistics', 'Pairs that are judged', {
    choices: { all: 'All pairs', reference: 'Each with the reference' },
    hint: 'All pairs by default: readers compare any two. Fewer pairs need fewer mounts.',
  })
  family?: 'all' | 'reference' | null;

  @ChoiceField('Method', 'Scatter', {
    choices: { auto: 'Chosen for the design', pooled: 'One for all', separate: 'Each its own', strict: 'Each its own, strict' },
    hint: 'By default the method whose false-alarm rate stayed near 5 % for this design; a verdict is firm only where all agree.',
  })
  scatter?: 'auto' | 'pooled' | 'separate' | 'strict' | null;

  @ChoiceField('Method', 'Adjust for', {
    choices: { none: 'Nothing', day: 'Bench day', rig: 'Rig', 'rig-day': 'Rig and day' },
    hint: 'Removes shifts shared by everything measured that day or on that rig, where every specimen meets it.',
  })
  block?: 'none' | 'day' | 'rig' | 'rig-day' | null;

  @ChoiceField('Method', 'What counts as the temperature', {
    choices: {
      window: 'Window mean after a steadiness test',
      peak: 'Peak',
      at_time: 'Value after a fixed time',
      end_value: 'Fitted end value',
    },
    hint: 'A window mean depends least on chance; the others are shown next to it.',
  })
  value_school?: string | null;

  @NumberField('Method', 'Fixed time', 's', [1, 86_400], 'After load start; only for the value after a fixed time.')
  at_s?: number | null;

  @ChoiceField('Method', 'Sensor', {
    choices: { mean: 'Mean of the die sensors', hottest: 'Hottest', named: 'A named one' },
    hint: 'The mean depends least on any single sensor; hottest and spread are always shown.',
  })
  sensor_school?: string | null;

  @TextField('Method', 'Named sensor', 200, 'Its column in the log, such as Die 2; only where a named one counts.')
  sensor_name?: string | null;

  @ChoiceField('Method', 'Ambient is taken at', {
    choices: { room: 'The room', inlet: 'The inlet of the cooler', case: 'Inside the case' },
    hint: 'Probes of one place are averaged, never those of two places.',
  })
  ambient_place?: AmbientPlace | null;

  @NumberField('Acceptance', 'Probes of one place may differ by', 'K', [0.1, 20], 'A larger difference needs your decision.')
  ambient_disagree_k?: number | null;

  @ChoiceField('Method', 'Ambient correction', {
    choices: { difference: 'Difference over ambient', absolute: 'Absolute', referred: 'Referred to 20 °C' },
    hint: 'The difference takes the room out of the result; referred is the same number plus 20; absolute compares what the sensor read, room included.',
  })
  ambient_school?: string | null;

  @ChoiceField('Method', 'Fans', {
    choices: { fixed: 'Fixed speed', noise: 'Equal noise', automatic: 'Automatic' },
    hint: 'Fixed for interfaces, equal noise for coolers; an automatic curve hides the gain in its speed.',
  })
  fan_school?: string | null;

  @ChoiceField('Method', 'Load', {
    choices: { fixed: 'Fixed power or clock', workload: 'The user’s real workload' },
    hint: 'Fixed power for a ranking; real workloads as further outcomes.',
  })
  load_school?: string | null;

  @ChoiceField('Method', 'Reaching steady state', {
    choices: { either: 'Either: the slope test decides', cold: 'Cold start', warmed: 'Pre-warmed' },
    hint: 'A cold start is checked by itself and against the first run; a pre-warmed one raises nothing. Either way the curve must lie flat before the window starts.',
  })
  steady_school?: string | null;

  @ChoiceField('Method', 'Amount and pattern', {
    choices: {
      by_lid: 'By lid size and material',
      dot: 'Dot',
      dots: 'Several dots',
      line: 'Line',
      cross: 'Cross',
      spread: 'Spread',
      film: 'Full film',
    },
    hint: 'The default follows lid size and material; what was done is recorded with each mount.',
  })
  amount_school?: string | null;

  @ChoiceField('Method', 'Masking around liquid metal', {
    choices: { mask: 'Coat or tape neighbours', dam: 'Dam', none: 'None' },
    hint: 'Liquid metal conducts and spreads: cover what lies beside it.',
  })
  masking_school?: string | null;

  @ChoiceField('Method', 'Repeats', {
    choices: { remounts: 'Remounts', runs: 'Runs on one mount' },
    hint: 'A remount shows the scatter of mounting; more runs on one mount do not.',
  })
  repeat_school?: string | null;

  @NumberField('Acceptance', 'Coldest room', '°C', [-60, 90])
  coldest_c?: number | null;

  @NumberField('Acceptance', 'Warmest room', '°C', [-60, 90], 'Also used for the headroom.')
  warmest_c?: number | null;

  @NumberField('Acceptance', 'Room drift within a run', 'K', [0.01, 50])
  drift_k?: number | null;

  @NumberField('Acceptance', 'Power tolerance', '%', [0.01, 100])
  power_tolerance_pct?: number | null;

  @NumberField('Acceptance', 'Fan tolerance', '%', [0.01, 100])
  fan_tolerance_pct?: number | null;

  @NumberField('Acceptance', 'Highest reading that passes', '°C', [-60, 300], 'A reading above it fails acceptance.')
  accept_c?: number | null;

  @YesNoField(
    'Bench',
    'Bracket each day',
    'Extra mounts of the reference at the start and end of each day show a drift of the bench; they are counted and priced.',
  )
  bracket?: boolean | null;

  @RefsField('Bench', 'Rigs', 'rigs', 'Or devices: a before and after measures each state on every device.')
  rigs?: number[] | null;

  @NumberField('Bench', 'One mount, hands on', 'min', [0, 1440], 'Clean, apply, assemble.')
  mount_min?: number | null;

  @NumberField('Bench', 'One run with cool-down', 'min', [1, 10_000], 'Empty: the steps of the loads.')
  run_min?: number | null;

  @NumberField('Bench', 'Bench day', 'h', [0.1, 24])
  day_hours?: number | null;

  @WholeField('Bench', 'Bench days at hand', '', [1, 1000], 'Empty: as many as needed.')
  days?: number | null;

  @DateField('Bench', 'First day')
  start_on?: string | null;

  @Maybe(Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'The start of the day is a time such as 09:00.' }))
  start_time?: string | null;

  /** days of the week that are worked on, 1 for Monday to 7 for Sunday */
  @Maybe(Wholes(1, 7, 7, 'Working days are a list of 1 for Monday to 7 for Sunday.'))
  weekdays?: number[] | null;

  @WholeField('Bench', 'Seed', '', [0, 4_294_967_295], 'The same seed gives the same order.')
  seed?: number | null;

  @NumberField('Rehearsal', 'Shift between days', 'K', [0, 50], 'Standard deviation shared by all mounts of a day.')
  day_sd?: number | null;

  @NumberField('Rehearsal', 'Mounts that fail', '%', [0, 90])
  failure_pct?: number | null;

  @NumberField('Headroom', 'Planned load', 'W', [0.01, 100_000], 'Empty: the set-point of the rig.')
  load_w?: number | null;

  @NumberField('Headroom', 'Worst resistance to expect', 'K/W', [0.0001, 1000], 'Sensor to room, of the worst one compared.')
  worst_k_per_w?: number | null;

  /** blocks after which the study is looked at, before its end */
  @Maybe(Wholes(2, 199, 10, 'Interim analyses are a list of up to ten numbers of mounts, each 2 or more.'))
  looks?: number[] | null;

  @NumberField('Cost', 'Consumables a mount', '', [0, 1e6], 'Cleaner, cloths, gloves.')
  consumables?: number | null;

  @NumberField('Cost', 'Tools, once', '', [0, 1e6])
  tools?: number | null;

  @NumberField('Cost', 'One hour of work', '', [0, 1e5])
  hour_rate?: number | null;

  @NumberField('Cost', 'Cost over', 'years', [0.1, 50], 'With what has to be renewed in that time. Empty: one mount.')
  years?: number | null;

  @TextField('Cost', 'Currency', 3, 'Three letters, such as EUR.')
  currency?: string | null;

  @TextField('Cost', 'Alternative for the same money', 200, 'A better cooler, a service, nothing.')
  alternative?: string | null;

  @NumberField('Cost', 'Its price', '', [0, 1e6])
  alternative_price?: number | null;

  @Maybe(ListOf(() => HeldItem, 40, 'Controlled conditions are a list of up to 40, each with a name.'))
  held?: HeldItem[] | null;

  @Maybe(ListOf(() => Load, 12, 'Loads are a list of up to 12, each with a name and steps.'))
  loads?: Load[] | null;

  @Maybe(ListOf(() => PlannedOutcome, 16, 'Outcomes are a list of up to 16, each with its margin.'))
  outcomes?: PlannedOutcome[] | null;

  @TextField('Ageing', 'Ages to measure at / days', 200, 'Counted from the first run of each mount, such as 0, 7, 14, 30, 60.')
  @Reads(agesProblem)
  ages?: string | null;

  @TextField('Fit', 'Enclosure it must fit', 80)
  fit_enclosure?: string | null;

  @NumberField('Fit', 'Clearance above the part', 'mm', [1, 2000])
  fit_height_mm?: number | null;

  @NumberField('Fit', 'Carries up to', 'g', [1, 100_000])
  fit_mass_g?: number | null;

  @TextField(
    'Limits',
    'Parts with own limits',
    600,
    'Each part with its sensors and its limit in °C from the data sheet, such as Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110.',
  )
  @Reads(partLimitsProblem)
  part_limits?: string | null;

  @NumberField('Limits', 'Converted to a room of', '°C', [-20, 70], 'The warmest room the device will stand in.')
  limits_room_c?: number | null;

  @NumberField('Sound', 'Background noise', 'dB', [0, 100], 'Read with everything off; it is subtracted from every reading.')
  noise_floor_db?: number | null;

  @NumberField('Sound', 'Distance of the meter', 'm', [0.05, 20])
  noise_distance_m?: number | null;

  @NumberField('Sound', 'Converted to a distance of', 'm', [0.05, 20], 'By 20·lg of the ratio: valid in the open, not near walls.')
  noise_at_m?: number | null;

  @NumberField('Sound', 'Noise compared at', 'dB', [0, 100])
  noise_target_db?: number | null;

  @ChoiceField('Sound', 'Weighting', { choices: { A: 'A', C: 'C', Z: 'None (Z)' } })
  noise_weighting?: 'A' | 'C' | 'Z' | null;

  @TextField('Sound', 'Room', 200, 'Size, walls, what else runs in it.')
  noise_room?: string | null;
}

export type PlanKey = keyof StudyPlan;
