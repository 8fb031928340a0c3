import { HEADROOM_K, headroom } from '#core/design/headroom';
import { dayTooShort, orderFindings } from '#core/design/orderFindings';
import type { TimedMount } from '#core/design/orderTypes';
import { comparisonFindings } from '#core/design/planFindings';
import type { PlanFinding } from '#core/design/types';
import { list, plural, writeMargin } from '#core/text/words';
import { heightProblem } from '#features/shelf/model/coolerHeights';
import { cutProblems } from '#features/shelf/model/cuts';
import { calibrationFinding, matchFindings, type SheetFinding } from '#features/shelf/model/sheetFindings';
import { crossedDevices } from './asFound';
import { designFindings } from './differences';
import { type ResolvedPlan, type ResolvedSpecimen, worstResistance } from './resolve';

const GRAVITY = { reject: 0, warn: 1, note: 2 };

/**
 * Everything a plan should be told about before a tube is opened, the gravest first.
 * @param timed the drawn order; null while there is none
 * @param today calendar day at the bench
 */
export function planFindings(plan: ResolvedPlan, timed: TimedMount[] | null, today: string): PlanFinding[] {
  const short = plan.order ? dayTooShort(plan.order) : null;
  const findings: PlanFinding[] = [
    ...askFindings(plan),
    ...(plan.specimens.length >= 2 ? comparisonFindings(plan.comparison, plan.said.mounts) : []),
    ...resolutionFindings(plan),
    ...stockFindings(plan, timed),
    ...tooManySeals(plan),
    ...loadFindings(plan),
    ...(short ? [short] : []),
    ...designFindings(plan),
    ...sheetFindings(plan, today),
    ...schoolFindings(plan),
    ...(plan.order && timed ? [...outOfDate(plan, timed), ...orderFindings(plan.order, timed)] : []),
  ];
  return findings.sort((a, b) => GRAVITY[a.severity] - GRAVITY[b.severity]);
}

/** What is still missing for a plan. */
function askFindings({ specimens, reference, said, rigs }: ResolvedPlan): PlanFinding[] {
  const findings: PlanFinding[] = [];
  if (specimens.length < 2) {
    findings.push({
      code: 'too_few_specimens',
      severity: 'warn',
      field: 'specimens',
      message: `A comparison needs two specimens; this study has ${specimens.length === 0 ? 'none' : 'one'}.`,
      nearest: 'Add them from the shelf, or by name.',
    });
  }
  if (specimens.length > 0 && !reference) {
    findings.push({
      code: 'reference_missing',
      severity: 'reject',
      field: 'reference_id',
      message: said.reference_id == null ? 'No specimen is the reference.' : 'The reference is not among the specimens of this study.',
      nearest: `Choose ${specimens[0].name}, or another one.`,
    });
  }
  if (rigs.length === 0) {
    findings.push({
      code: 'no_rig',
      severity: 'warn',
      field: 'rigs',
      message: 'No rig is chosen, so that days and limits cannot be planned.',
      nearest: 'Choose one or more rigs.',
    });
  }
  return findings;
}

/** A margin finer than what the sensors can tell. */
function resolutionFindings({ said, rigs, comparison }: ResolvedPlan): PlanFinding[] {
  // the step of a thermometer says nothing of clocks or scores
  if (comparison.unit !== undefined) return [];
  const steps = rigs.flatMap((r) => [
    ...(r.sheet.sensor_resolution_k != null ? [{ what: `the die sensors of ${r.name}`, k: r.sheet.sensor_resolution_k }] : []),
    ...r.instruments
      .filter((i) => i.sheet.reads === 'temperature' && i.sheet.resolution != null)
      .map((i) => ({ what: i.name, k: (i.sheet.resolution ?? 0) * (/F/.test(i.sheet.unit ?? '') ? 5 / 9 : 1) })),
  ]);
  const coarsest = steps.reduce<{ what: string; k: number } | null>((a, b) => (a === null || b.k > a.k ? b : a), null);
  if (!coarsest || said.margin_k >= coarsest.k) return [];
  return [
    {
      code: 'margin_below_resolution',
      severity: 'reject',
      field: 'margin_k',
      message: `A margin of ${writeMargin(said.margin_k)} K is finer than ${coarsest.what} can resolve, which read in steps of ${writeMargin(coarsest.k)} K.`,
      nearest: `A margin of ${writeMargin(coarsest.k)} K or more.`,
      numbers: { resolution_k: coarsest.k },
    },
  ];
}

/** More mounts than tube, pack or coupons allow; extra mounts of the reference count as real ones. */
function stockFindings({ specimens, said, rigs }: ResolvedPlan, timed: TimedMount[] | null): PlanFinding[] {
  return specimens.flatMap((s): PlanFinding[] => {
    if (s.allowed === null || s.as_found) return [];
    if (s.seals) return sealFinding(s, said.mounts, rigs.length);
    const ordered = timed?.filter((m) => m.specimen === s.name).length ?? 0;
    const planned = said.mounts * crossedDevices(said);
    const wanted = Math.max(planned, ordered);
    if (s.allowed >= wanted) return [];
    const extra = wanted > planned ? `, ${wanted - planned} of them to open and close days` : '';
    const what = s.material?.sheet.permanent ? 'stock and coupons allow' : 'the stock allows';
    return [
      {
        code: 'stock_short',
        severity: 'reject',
        field: 'mounts',
        message: `${s.name}: ${what} ${plural(s.allowed, 'mount')} in this study; ${wanted} are planned${extra}.`,
        nearest:
          s.allowed >= 1
            ? `Buy for ${wanted - s.allowed} more, or plan ${s.allowed} mounts.`
            : `Buy for ${wanted} mounts, or leave ${s.name} out.`,
        numbers: { allowed: s.allowed, wanted },
      },
    ];
  });
}

/** A permanent bond without coupons: once on each part, at its end. */
function sealFinding(s: ResolvedSpecimen, wanted: number, rigs: number): PlanFinding[] {
  if (wanted <= rigs) return [];
  return [
    {
      code: 'permanent_without_coupon',
      severity: 'reject',
      field: 'mounts',
      message: `${s.name} is permanent and no rig has coupons: it can be mounted once on each part, as the last mount of the study. ${plural(wanted, 'mount')} are planned.`,
      nearest: `The schedule takes ${plural(s.mounts, 'mount')} of it, last. For ${wanted}, give the rig ${wanted} lid-and-base coupons on its sheet.`,
      numbers: { allowed: rigs, wanted },
    },
  ];
}

/** More permanent bonds than there are parts to end with one. */
function tooManySeals({ specimens, rigs }: ResolvedPlan): PlanFinding[] {
  const seals = specimens.filter((s) => s.seals);
  const mounts = seals.reduce((sum, s) => sum + s.mounts, 0);
  if (mounts <= rigs.length) return [];
  return [
    {
      code: 'permanent_parts',
      severity: 'reject',
      field: 'specimens',
      message: `${list(seals.map((s) => s.name))} are permanent, each ends its part, and there ${rigs.length === 1 ? 'is one rig' : `are ${rigs.length} rigs`} without coupons.`,
      nearest: `Keep ${plural(rigs.length, 'of them', 'of them')}, or give the rig ${mounts} lid-and-base coupons on its sheet.`,
    },
  ];
}

function loadFindings(plan: ResolvedPlan): PlanFinding[] {
  const { said, load_w, limit_c } = plan;
  const worst = worstResistance(plan);
  if (load_w === null || limit_c === null || worst === null || said.warmest_c == null) return [];
  const { highest_load_w } = headroom({ worst_k_per_w: worst, specimens: [], warmest_c: said.warmest_c, limit_c, load_w });
  if (load_w <= highest_load_w) return [];
  return [
    {
      code: 'load_above_headroom',
      severity: 'reject',
      field: 'load_w',
      message: `At ${write0(load_w)} W and ${write0(said.warmest_c)} °C in the room the worst specimen would read ${write0(said.warmest_c + worst * load_w)} °C; it should stay ${HEADROOM_K} K below the limit of ${write0(limit_c)} °C. A throttled run has no rise.`,
      nearest:
        highest_load_w > 0
          ? `A load of ${Math.floor(highest_load_w)} W, or a room below ${write0(limit_c - HEADROOM_K - worst * load_w)} °C.`
          : `A room below ${write0(limit_c - HEADROOM_K)} °C.`,
      numbers: { highest_load_w, limit_c },
    },
  ];
}

/** What the sheets of the chosen rigs and materials bring with them. */
function sheetFindings({ specimens, rigs }: ResolvedPlan, today: string): PlanFinding[] {
  const instruments = new Map(rigs.flatMap((r) => r.instruments.map((i) => [i.id, i] as const)));
  const calibrations = [...instruments.values()].map((i) => calibrationFinding(i.name, i.sheet, today));
  const matches = rigs.flatMap((rig) =>
    specimens.flatMap((s) =>
      s.material ? matchFindings({ name: s.material.name, sheet: s.material.sheet }, rig, s.cooler ?? rig.cooler) : [],
    ),
  );
  const fits = rigs.flatMap((rig) => [
    ...specimens.flatMap((s) => (s.material ? cutFindings(s.material, rig) : [])),
    ...specimens.flatMap((s) => heightFinding(s.cooler ?? rig.cooler, rig)),
  ]);
  const told = new Map([...calibrations, ...matches, ...fits].filter((f) => f !== null).map((f) => [f.message, f]));
  return [...told.values()].map(({ code, severity, message }) => ({
    code,
    severity,
    message,
    field: code.startsWith('calibration') ? 'rigs' : 'specimens',
  }));
}

/** What is wrong with a sheet's cut on a rig of one contact, before it is made. */
function cutFindings({ name, sheet }: NonNullable<ResolvedSpecimen['material']>, rig: ResolvedPlan['rigs'][number]): SheetFinding[] {
  const { cut_length_mm: l, cut_width_mm: w, sheet_length_mm, sheet_width_mm } = sheet;
  const { contact_length_mm, contact_width_mm, contact } = rig.sheet;
  if (l == null || w == null || contact === 'row' || contact === 'dies') return [];
  const part = contact_length_mm != null && contact_width_mm != null ? { length: contact_length_mm, width: contact_width_mm } : null;
  const whole = sheet_length_mm != null && sheet_width_mm != null ? { length: sheet_length_mm, width: sheet_width_mm } : null;
  return cutProblems(`the contact of ${rig.name}`, { length: l, width: w }, part, whole).map((problem) => ({
    ...{ code: 'cut_wrong', severity: 'warn' as const, message: `${name}: ${problem}` },
  }));
}

function heightFinding(cooler: ResolvedPlan['rigs'][number]['cooler'], rig: ResolvedPlan['rigs'][number]): SheetFinding[] {
  const message = cooler && heightProblem(cooler.name, cooler.sheet, rig.name, rig.sheet.height_room_mm);
  return message ? [{ code: 'cooler_too_high', severity: 'warn', message }] : [];
}

function schoolFindings({ said, rigs }: ResolvedPlan): PlanFinding[] {
  const findings: PlanFinding[] = [];
  const automatic = said.fan_school === 'automatic' || rigs.some((r) => r.sheet.fan_control === 'automatic');
  if (automatic) {
    findings.push({
      code: 'fan_automatic',
      severity: 'warn',
      field: 'fan_school',
      message: 'An automatic fan curve holds the temperature and hides the gain in fan speed.',
      nearest: 'A fixed fan speed; the automatic curve as a further load.',
    });
  }
  if (said.repeat_school === 'runs') {
    findings.push({
      code: 'runs_for_remounts',
      severity: 'warn',
      field: 'repeat_school',
      message: 'Runs on one mount do not show how much mounting scatters; verdicts count each mount once anyway.',
      nearest: 'Remounts.',
    });
  }
  if (said.ambient_school === 'absolute') {
    findings.push({
      code: 'absolute_temperature',
      severity: 'note',
      field: 'ambient_school',
      message:
        'Absolute temperatures include the room of their day: verdicts compare them as read, and a warmer room counts against what was measured in it.',
    });
  }
  return findings;
}

/** An order drawn before specimens, mounts or rigs changed. */
function outOfDate({ specimens, rigs }: ResolvedPlan, timed: TimedMount[]): PlanFinding[] {
  const other = specimens.filter((s) => timed.filter((m) => m.specimen === s.name && !m.extra).length !== s.mounts);
  const unused = rigs.filter((r) => !timed.some((m) => m.rig === r.name));
  if (other.length === 0 && unused.length === 0) return [];
  const what = [
    ...(other.length > 0 ? [`has another number of mounts of ${other.map((s) => s.name).join(', ')} than planned`] : []),
    ...(unused.length > 0 ? [`leaves ${unused.map((r) => r.name).join(', ')} idle`] : []),
  ];
  return [
    {
      code: 'order_out_of_date',
      severity: 'warn',
      field: 'order',
      message: `The order was drawn before the plan changed: it ${what.join(' and ')}.`,
      nearest: 'Draw the rest of the order again.',
    },
  ];
}

const write0 = (v: number) => String(Number(v.toFixed(1)));
