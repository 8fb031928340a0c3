import { Matches } from 'class-validator';
import type { AmbientPlace } from '#core/signal/trace/types';
import { ChoiceField, DateField, NumberField, RefField, RefsField, TextField, WholeField } from '#rules/fields';
import { ListOf, Maybe, Reads, Text, Wholes } from '#rules/rules';
import { agesProblem } from './ages';
import { FACTORS } from './factors';
import { Load } from './loads';
import { PlannedOutcome } from './outcomes';
import { partLimitsProblem } from './partLimits';

/** Something that is held alike for all specimens. */
export class HeldItem {
  @Text(1, 80, 'What is held has a name of 1 to 80 characters.')
  what!: string;

  @Maybe(Text(0, 80, 'The value of what is held takes up to 80 characters.'))
  value?: string | null;

  @Maybe(Text(0, 40, 'A tolerance takes up to 40 characters.'))
  tolerance?: string | null;
}

/**
 * The plan of a study: every field stands alone, so that two people change different ones at once. What is not said takes PLAN_DEFAULTS,
 * and the scatter the lab's own history.
 */
export class StudyPlan {
  @TextField({ label: 'Title', group: 'Question', most: 120 })
  title?: string | null;

  @TextField({ label: 'Question', group: 'Question', most: 1000, hint: 'what the reader should know at the end' })
  question?: string | null;

  @ChoiceField({ label: 'What varies', group: 'Question', choices: FACTORS, hint: 'exactly one thing; all else is named and held' })
  varies?: keyof typeof FACTORS | null;

  @ChoiceField({
    label: 'Design',
    group: 'Question',
    choices: { one_factor: 'One factor', two_by_two: '2 × 2: two factors at two levels', before_after: 'Before and after' },
  })
  design?: 'one_factor' | 'two_by_two' | 'before_after' | null;

  @ChoiceField({ label: 'Second factor', group: 'Question', choices: FACTORS, hint: 'of a 2 × 2' })
  second_factor?: keyof typeof FACTORS | null;

  @RefField({
    label: 'Reference',
    group: 'Question',
    section: 'specimens',
    hint: 'opens and closes each day; verdicts are told against it',
  })
  reference_id?: number | null;

  @NumberField({ label: 'Smallest difference that matters', unit: 'K', group: 'Figures', min: 0.01, max: 50 })
  margin_k?: number | null;

  @WholeField({ label: 'Mounts of each', group: 'Figures', min: 1, max: 200 })
  mounts?: number | null;

  @WholeField({ label: 'Runs on each mount', group: 'Figures', min: 1, max: 50 })
  runs?: number | null;

  @NumberField({ label: 'Scatter between mounts', unit: 'K', group: 'Figures', min: 0.001, max: 100, hint: 'standard deviation' })
  mount_sd?: number | null;

  @NumberField({ label: 'Scatter between runs', unit: 'K', group: 'Figures', min: 0, max: 100, hint: 'standard deviation on one mount' })
  run_sd?: number | null;

  @NumberField({ label: 'Chance of finding it', group: 'Figures', min: 0.5, max: 0.999, hint: 'power, such as 0.8' })
  power?: number | null;

  @NumberField({ label: 'Confidence', group: 'Figures', min: 0.5, max: 0.9999, hint: 'of all verdicts together' })
  confidence?: number | null;

  @ChoiceField({
    label: 'Pairs that are judged',
    group: 'Figures',
    choices: { all: 'All pairs', reference: 'Each with the reference' },
    hint: 'All pairs by default: readers compare any two. Fewer pairs need fewer mounts.',
  })
  family?: 'all' | 'reference' | null;

  @ChoiceField({
    label: 'Scatter',
    group: 'Schools',
    choices: { auto: 'As the design needs', pooled: 'One for all', separate: 'Each its own', strict: 'Each its own, strict' },
    hint: 'By default the school that kept its error for so many specimens and mounts; a verdict is firm only where all agree.',
  })
  scatter?: 'auto' | 'pooled' | 'separate' | 'strict' | null;

  @ChoiceField({
    label: 'Blocks',
    group: 'Schools',
    choices: { none: 'None', day: 'Bench days', rig: 'Rigs', 'rig-day': 'Rigs on their days' },
    hint: 'Taken out of the comparison where every specimen meets them; days that differ otherwise widen all intervals.',
  })
  block?: 'none' | 'day' | 'rig' | 'rig-day' | null;

  @ChoiceField({
    label: 'What counts as the temperature',
    group: 'Schools',
    choices: {
      window: 'Window mean after a steadiness test',
      peak: 'Peak',
      at_time: 'Value after a fixed time',
      end_value: 'Fitted end value',
    },
    hint: 'A window mean says least by chance; the others are shown beside it.',
  })
  value_school?: string | null;

  @NumberField({
    label: 'Fixed time',
    unit: 's',
    group: 'Schools',
    min: 1,
    max: 86_400,
    hint: 'after load start, for the value after a fixed time',
  })
  at_s?: number | null;

  @ChoiceField({
    label: 'Sensor',
    group: 'Schools',
    choices: { mean: 'Mean of the die sensors', hottest: 'Hottest', named: 'A named one' },
    hint: 'The mean moves least with one sensor’s whim; hottest and spread are always shown.',
  })
  sensor_school?: string | null;

  @TextField({ label: 'Named sensor', group: 'Schools', most: 200, hint: 'its column in the log, such as Die 2; where a named one counts' })
  sensor_name?: string | null;

  @ChoiceField({
    label: 'Ambient is taken at',
    group: 'Schools',
    choices: { room: 'The room', inlet: 'The inlet of the cooler', case: 'Inside the case' },
    hint: 'Probes of one place are averaged, never those of two places.',
  })
  ambient_place?: AmbientPlace | null;

  @NumberField({
    label: 'Probes of one place may differ by',
    unit: 'K',
    group: 'Acceptance',
    min: 0.1,
    max: 20,
    hint: 'more needs your decision',
  })
  ambient_disagree_k?: number | null;

  @ChoiceField({
    label: 'How ambient enters',
    group: 'Schools',
    choices: { difference: 'Difference over ambient', absolute: 'Absolute', referred: 'Referred to 20 °C' },
    hint: 'The difference leaves the room out of the result; referred is the same number plus 20; absolute compares what the sensor read, room and all.',
  })
  ambient_school?: string | null;

  @ChoiceField({
    label: 'Fans',
    group: 'Schools',
    choices: { fixed: 'Fixed speed', noise: 'Equal noise', automatic: 'Automatic' },
    hint: 'Fixed for interfaces, equal noise for coolers; an automatic curve hides the gain in its speed.',
  })
  fan_school?: string | null;

  @ChoiceField({
    label: 'Load',
    group: 'Schools',
    choices: { fixed: 'Fixed power or clock', workload: 'The user’s real workload' },
    hint: 'Fixed for ranking; real workloads as further outcomes.',
  })
  load_school?: string | null;

  @ChoiceField({
    label: 'Reaching steady state',
    group: 'Schools',
    choices: { either: 'Either: the slope test decides', cold: 'Cold start', warmed: 'Pre-warmed' },
    hint: 'A cold start is checked by itself and against the first run; a pre-warmed one raises nothing. Either way the curve must lie flat before the window starts.',
  })
  steady_school?: string | null;

  @ChoiceField({
    label: 'Amount and pattern',
    group: 'Schools',
    choices: {
      by_lid: 'By lid size and material',
      dot: 'Dot',
      dots: 'Several dots',
      line: 'Line',
      cross: 'Cross',
      spread: 'Spread',
      film: 'Full film',
    },
    hint: 'By lid and material; what was done is recorded and can differ.',
  })
  amount_school?: string | null;

  @ChoiceField({
    label: 'Masking around liquid metal',
    group: 'Schools',
    choices: { mask: 'Coat or tape neighbours', dam: 'Dam', none: 'None' },
    hint: 'Mask by default: it conducts and runs.',
  })
  masking_school?: string | null;

  @ChoiceField({
    label: 'Repeats',
    group: 'Schools',
    choices: { remounts: 'Remounts', runs: 'Runs on one mount' },
    hint: 'Remounts are the unit; runs on one mount never stand in for them.',
  })
  repeat_school?: string | null;

  @NumberField({ label: 'Coldest room', unit: '°C', group: 'Acceptance', min: -60, max: 90 })
  coldest_c?: number | null;

  @NumberField({ label: 'Warmest room', unit: '°C', group: 'Acceptance', min: -60, max: 90, hint: 'also counts for the headroom' })
  warmest_c?: number | null;

  @NumberField({ label: 'Room drift within a run', unit: 'K', group: 'Acceptance', min: 0.01, max: 50 })
  drift_k?: number | null;

  @NumberField({ label: 'Power tolerance', unit: '%', group: 'Acceptance', min: 0.01, max: 100 })
  power_tolerance_pct?: number | null;

  @NumberField({ label: 'Fan tolerance', unit: '%', group: 'Acceptance', min: 0.01, max: 100 })
  fan_tolerance_pct?: number | null;

  @NumberField({
    label: 'Highest reading that passes',
    unit: '°C',
    group: 'Acceptance',
    min: -60,
    max: 300,
    hint: 'what a specimen must stay below to be accepted',
  })
  accept_c?: number | null;

  @RefsField({ label: 'Rigs', group: 'Bench', section: 'rigs' })
  rigs?: number[] | null;

  @NumberField({ label: 'One mount, hands on', unit: 'min', group: 'Bench', min: 0, max: 1440, hint: 'clean, apply, assemble' })
  mount_min?: number | null;

  @NumberField({ label: 'One run with cool-down', unit: 'min', group: 'Bench', min: 1, max: 10_000, hint: 'the loads’ steps where empty' })
  run_min?: number | null;

  @NumberField({ label: 'Bench day', unit: 'h', group: 'Bench', min: 0.1, max: 24 })
  day_hours?: number | null;

  @WholeField({ label: 'Bench days at hand', group: 'Bench', min: 1, max: 1000, hint: 'empty: as many as it takes' })
  days?: number | null;

  @DateField({ label: 'First day', group: 'Bench' })
  start_on?: string | null;

  @Maybe(Matches(/^([01]\d|2[0-3]):[0-5]\d$/, { message: 'The start of the day is a time such as 09:00.' }))
  start_time?: string | null;

  /** days of the week that are worked on, 1 for Monday to 7 for Sunday */
  @Maybe(Wholes(1, 7, 7, 'Working days are a list of 1 for Monday to 7 for Sunday.'))
  weekdays?: number[] | null;

  @WholeField({ label: 'Seed', group: 'Bench', min: 0, max: 4_294_967_295, hint: 'the same seed draws the same order' })
  seed?: number | null;

  @NumberField({
    label: 'Shift between days',
    unit: 'K',
    group: 'Rehearsal',
    min: 0,
    max: 50,
    hint: 'standard deviation common to all mounts of a day',
  })
  day_sd?: number | null;

  @NumberField({ label: 'Mounts that fail', unit: '%', group: 'Rehearsal', min: 0, max: 90 })
  failure_pct?: number | null;

  @NumberField({ label: 'Planned load', unit: 'W', group: 'Headroom', min: 0.01, max: 100_000, hint: 'the rig’s set-point where empty' })
  load_w?: number | null;

  @NumberField({
    label: 'Worst resistance to expect',
    unit: 'K/W',
    group: 'Headroom',
    min: 0.0001,
    max: 1000,
    hint: 'sensor to room, of the worst specimen',
  })
  worst_k_per_w?: number | null;

  /** blocks after which the study is looked at, before its end */
  @Maybe(Wholes(2, 199, 10, 'Looks are a list of up to ten numbers of blocks, each 2 or more.'))
  looks?: number[] | null;

  @NumberField({ label: 'Consumables a mount', group: 'Cost', min: 0, max: 1e6, hint: 'cleaner, cloths, gloves' })
  consumables?: number | null;

  @NumberField({ label: 'Tools, once', group: 'Cost', min: 0, max: 1e6 })
  tools?: number | null;

  @NumberField({ label: 'One hour of work', group: 'Cost', min: 0, max: 1e5 })
  hour_rate?: number | null;

  @TextField({ label: 'Currency', group: 'Cost', most: 3, hint: 'three letters, such as EUR' })
  currency?: string | null;

  @TextField({ label: 'What the money buys otherwise', group: 'Cost', most: 200, hint: 'a better cooler, a service, nothing' })
  alternative?: string | null;

  @NumberField({ label: 'Its price', group: 'Cost', min: 0, max: 1e6 })
  alternative_price?: number | null;

  @Maybe(ListOf(() => HeldItem, 40, 'What is held is a list of up to 40 things, each with a name.'))
  held?: HeldItem[] | null;

  @Maybe(ListOf(() => Load, 12, 'Loads are a list of up to 12, each with a name and steps.'))
  loads?: Load[] | null;

  @Maybe(ListOf(() => PlannedOutcome, 16, 'Outcomes are a list of up to 16, each with its margin.'))
  outcomes?: PlannedOutcome[] | null;

  @TextField({
    label: 'Ages to measure at / days',
    group: 'Ageing',
    most: 200,
    hint: 'from the first run of each mount, such as 0, 7, 14, 30, 60',
  })
  @Reads(agesProblem)
  ages?: string | null;

  @TextField({ label: 'Enclosure it must fit', group: 'Fit', most: 80 })
  fit_enclosure?: string | null;

  @NumberField({ label: 'Room above the part', unit: 'mm', group: 'Fit', min: 1, max: 2000 })
  fit_height_mm?: number | null;

  @NumberField({ label: 'Carries at most', unit: 'g', group: 'Fit', min: 1, max: 100_000 })
  fit_mass_g?: number | null;

  @TextField({
    label: 'Parts with own limits',
    group: 'Limits',
    most: 600,
    hint: 'each part with its sensors and limit in °C from its data sheet, such as Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110',
  })
  @Reads(partLimitsProblem)
  part_limits?: string | null;

  @NumberField({
    label: 'Told for a room of',
    unit: '°C',
    group: 'Limits',
    min: -20,
    max: 70,
    hint: 'the warmest the device will stand in',
  })
  limits_room_c?: number | null;

  @NumberField({
    label: 'Floor of the room',
    unit: 'dB',
    group: 'Sound',
    min: 0,
    max: 100,
    hint: 'read with everything off; it is taken out of every reading',
  })
  noise_floor_db?: number | null;

  @NumberField({ label: 'Distance of the meter', unit: 'm', group: 'Sound', min: 0.05, max: 20 })
  noise_distance_m?: number | null;

  @NumberField({
    label: 'Told for a distance of',
    unit: 'm',
    group: 'Sound',
    min: 0.05,
    max: 20,
    hint: 'turned by 20·lg of the ratio: holds in the open, not near walls',
  })
  noise_at_m?: number | null;

  @NumberField({ label: 'Noise compared at', unit: 'dB', group: 'Sound', min: 0, max: 100 })
  noise_target_db?: number | null;

  @ChoiceField({ label: 'Weighting', group: 'Sound', choices: { A: 'A', C: 'C', Z: 'None (Z)' } })
  noise_weighting?: 'A' | 'C' | 'Z' | null;

  @TextField({ label: 'Room', group: 'Sound', most: 200, hint: 'size, walls, what else runs in it' })
  noise_room?: string | null;
}

export type PlanKey = keyof StudyPlan;
