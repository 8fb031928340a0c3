import { createHash } from 'node:crypto';
import { format, subBusinessDays, subDays } from 'date-fns';
import { type Client, database, transaction } from '#app/database/pool';
import { execute, many } from '#app/database/query';
import { timeOrder } from '#core/design/timeline';
import { seededRandom } from '#core/stats/random';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { attachResults } from '#features/run/server/programResults';
import { reserveRun } from '#features/run/store/runs';
import { deleteSheet, isNamed, listSheets } from '#features/shelf/store/sheets';
import { resolvePlan } from '#features/study/model/resolve';
import { changePlan } from '#features/study/server/editPlan';
import { changeOrder } from '#features/study/server/order';
import { type PlanView, planView } from '#features/study/server/planView';
import {
  deleteStudy,
  insertMount,
  insertSpecimen,
  insertStudy,
  linkSpecimen,
  listMounts,
  listSpecimens,
  listStudies,
} from '#features/study/store/studies';
import { check } from '#rules/validation';
import { NORTH_BENCH } from '#simulator/rigs';
import { type SimulatedSample, simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { SOUTH_HUT_MISHAPS, writeAttempts, writeOpening, writeTeardown } from './attempts';
import { crossedRuns, sweepRuns } from './coolers';
import type { DemoRun, DemoStudy } from './demoStudy';
import { hutCardRuns } from './hutCard';
import { takePrints } from './imprints';
import { flatCoolerRuns, underLoopRuns } from './otherSetups';
import {
  COOLERS_AT_NOISE,
  EIGHT_MATERIALS,
  FLAT_COOLER,
  HUT_CARD,
  LAPPED_LID,
  SIXTY_DAYS,
  SOUTH_HUT,
  THREE_CARDS,
  TWO_TOWERS,
  UNDER_LOOP,
} from './plans';
import { writeRecommendations } from './recommendations';
import { SHELF_NAMES, stockShelf } from './shelf';
import { AGES_DAYS, sixtyDaysRuns } from './sixtyDays';
import { DAYS_DONE, southHutRuns } from './southHut';
import { demoRuns, MATERIALS } from './studyOne';
import { threeCardsRuns } from './threeCards';

const STUDIES = [
  EIGHT_MATERIALS,
  SOUTH_HUT,
  HUT_CARD,
  COOLERS_AT_NOISE,
  TWO_TOWERS,
  SIXTY_DAYS,
  LAPPED_LID,
  THREE_CARDS,
  UNDER_LOOP,
  FLAT_COOLER,
];
/** When the hut card was measured as found, in seconds since 1970. */
const HUT_CARD_START = Date.UTC(2026, 8, 7, 8, 10) / 1000;
/** When the sweeps of the coolers and the crossed towers began. */
const SWEEPS_START = Date.UTC(2026, 8, 14, 7, 30) / 1000;
const LID_START = Date.UTC(2026, 9, 5, 7, 30) / 1000;
const CARDS_START = Date.UTC(2026, 9, 19, 7, 30) / 1000;
const LOOP_START = Date.UTC(2026, 6, 6, 7, 30) / 1000;
const FLAT_START = Date.UTC(2026, 6, 20, 7, 30) / 1000;
const TOWERS_START = Date.UTC(2026, 8, 21, 7, 30) / 1000;

/**
 * Fills an empty store with the demo: logs of the simulated rig go through the same import as a person's files. A load that was interrupted
 * goes on where it stopped; a store with studies of its own is left alone.
 * @param progress told after each run
 * @param isCancelled asked between runs; a cancelled load leaves nothing behind
 */
export async function loadDemo(progress: (done: number, total: number) => void, isCancelled: () => boolean = () => false): Promise<void> {
  const db = database();
  if (!(await isDemoUnfinished(db))) {
    if ((await listStudies(db)).length > 0) return;
    await beginDemo(db);
  }
  const shelf = await stockShelf(db);
  const opened = new Map<DemoStudy, PlanView>();
  for (const study of STUDIES) opened.set(study, await openStudy(study, shelf));
  const eight = opened.get(EIGHT_MATERIALS) as PlanView;
  const south = opened.get(SOUTH_HUT) as PlanView;
  const hut = opened.get(HUT_CARD) as PlanView;
  const north = await toImports(eight, shelf['North bench'], demoRuns());
  const others = [
    ...(await toImports(hut, shelf['South bench'], hutCardRuns(HUT_CARD_START))),
    ...(await toImports(south, shelf['South bench'], southHutRuns(...orderOf(south)))),
    ...(await toImports(opened.get(COOLERS_AT_NOISE) as PlanView, shelf['North bench'], sweepRuns(SWEEPS_START))),
    ...(await toImports(opened.get(TWO_TOWERS) as PlanView, shelf['North bench'], crossedRuns(TOWERS_START))),
    ...(await toImports(opened.get(LAPPED_LID) as PlanView, shelf['North bench'], lappedLidRuns(LID_START))),
    ...(await toImports(opened.get(SIXTY_DAYS) as PlanView, shelf['North bench'], sixtyDaysRuns(sixtyDaysStart()))),
    ...(await toImports(opened.get(THREE_CARDS) as PlanView, shelf['South bench'], threeCardsRuns(CARDS_START), shelf)),
  ];
  // measured before those: numbered first, so that the bench shows the others as its last
  const earlier = [
    ...(await toImports(opened.get(UNDER_LOOP) as PlanView, shelf['North bench'], underLoopRuns(LOOP_START))),
    ...(await toImports(opened.get(FLAT_COOLER) as PlanView, shelf['South bench'], flatCoolerRuns(FLAT_START))),
  ];
  const rest = [...earlier, ...others];
  // numbered before they are read, so that two can be read at a time and are called the same at every load
  const ids: number[] = [];
  for (const _ of [...north, ...rest]) ids.push(await reserveRun(db));
  let done = 0;
  const readAll = async (imports: RunImport[], first: number) => {
    for (const [i, load] of imports.entries()) {
      if (isCancelled()) return;
      await load(ids[first + i]);
      progress(++done, ids.length);
    }
  };
  await Promise.all([readAll(north, 0), readAll(rest, north.length)]);
  if (isCancelled()) return removeDemo();
  await failOne(south);
  await writeAttempts(eight.study_id);
  await writeAttempts(south.study_id, SOUTH_HUT_MISHAPS);
  await writeAttempts(hut.study_id);
  for (const study of [COOLERS_AT_NOISE, TWO_TOWERS, SIXTY_DAYS, LAPPED_LID, THREE_CARDS, UNDER_LOOP])
    await writeAttempts((opened.get(study) as PlanView).study_id);
  // a second tube of one paste
  await writeAttempts((opened.get(FLAT_COOLER) as PlanView).study_id, undefined, { 'Bramble 5': '2614' });
  await writeOpening((opened.get(SIXTY_DAYS) as PlanView).study_id);
  await writeTeardown(shelf['South bench']);
  await takePrints(south.study_id);
  await writeRecommendations(eight.study_id, hut.study_id);
  await finishDemo(db);
}

/** A study with its specimens, its plan and its order, each made where it is not there yet. */
async function openStudy(study: DemoStudy, shelf: Record<string, number>): Promise<PlanView> {
  const db = database();
  const { title, question, margin_k, reduction } = study;
  await insertStudy(db, { title, question, margin_k, reduction });
  const id = (await listStudies(db)).find((s) => s.title === title)?.id ?? 0;
  for (const s of study.specimens) await insertSpecimen(db, id, s.name, s.kind);
  const specimens = new Map((await listSpecimens(db, id)).map((s) => [s.name, s.id]));
  const changes: Record<string, unknown> = { start_on: firstDay(study), ...study.plan, rigs: study.rigs.map((r) => shelf[r]) };
  for (const s of study.specimens) {
    const specimen = specimens.get(s.name) ?? 0;
    await linkSpecimen(db, specimen, s.material ? shelf[s.material] : null, s.cooler ? shelf[s.cooler] : null);
    for (const [field, value] of Object.entries(s.plan ?? {})) changes[`specimen:${specimen}:${field}`] = value;
  }
  const view = await planView(id);
  if (view.mounts.length > 0) return view;
  await changePlan(id, { base: view.version, changes, insist: [] });
  return changeOrder(id, { action: 'draw', seed: study.plan.seed ?? 1 });
}

/** The sixty days ended two days ago, so that the next measurement lies ahead. */
function sixtyDaysStart(): number {
  const begin = subDays(new Date(), Math.max(...AGES_DAYS) + 2);
  return Date.UTC(begin.getUTCFullYear(), begin.getUTCMonth(), begin.getUTCDate(), 6, 30) / 1000;
}

/** First day of the half-done study, so that the day after those behind it is today, and of the one whose next measurement lies ahead. */
function firstDay(study: DemoStudy): string | null {
  if (study === SOUTH_HUT) return format(subBusinessDays(new Date(), DAYS_DONE), 'yyyy-MM-dd');
  return study === SIXTY_DAYS ? format(new Date(sixtyDaysStart() * 1000), 'yyyy-MM-dd') : null;
}

/** The order of a study by the clock, and when its first day begins, in seconds since 1970. */
function orderOf(view: PlanView): [ReturnType<typeof timeOrder>, number] {
  const plan = resolvePlan(view.plan, view.context);
  const [h, m] = plan.said.start_time.split(':').map(Number);
  const start = new Date(`${plan.dates[0]}T00:00:00Z`).getTime() / 1000 + 3600 * h + 60 * m;
  return [plan.order ? timeOrder(plan.order, view.mounts) : [], start];
}

/** Imports a run under a number. */
type RunImport = (run_id: number) => Promise<void>;

/**
 * For each run what imports it; mounts are made in the order of the runs.
 * @param rig that they stand on, unless they say another
 */
async function toImports(view: PlanView, rig: number, runs: DemoRun[], shelf: Record<string, number> = {}): Promise<RunImport[]> {
  const db = database();
  const rigOf = (run: DemoRun) => (run.on ? shelf[run.on] : rig);
  const specimens = new Map(view.context.specimens.map((s) => [s.name, s.id]));
  const mounts = new Map((await listMounts(db, view.study_id)).map((m) => [`${m.specimen_id}/${m.number}`, m.id]));
  for (const run of [...runs].sort((a, b) => a.mount - b.mount)) {
    const specimen = specimens.get(run.specimen) ?? 0;
    const key = `${specimen}/${run.mount}`;
    if (!mounts.has(key)) mounts.set(key, (await insertMount(db, specimen, rigOf(run), run.note)).id);
  }
  return runs.map((run) => async (run_id) => {
    const specimen = specimens.get(run.specimen) ?? 0;
    const place = {
      study_id: view.study_id,
      specimen_id: specimen,
      mount_id: mounts.get(`${specimen}/${run.mount}`),
      rig_id: rigOf(run),
      load: run.load ?? null,
    };
    const samples = simulateRun(run.rig, run.simulated);
    const text = writeLog(samples, run.start);
    const plan = check(ImportPlan, { import_id: seededUuid(run.file), reading: {}, place });
    const stored = await importRun(plan, [{ name: run.file, bytes: new TextEncoder().encode(text) }], {}, run_id);
    if (run.scored && !stored.repeated) await attachResults(stored.run_id, [scoreFile(run, samples)], true);
  });
}

/** The results file of the program: its score goes with the mean clock under load. */
function scoreFile(run: DemoRun, samples: SimulatedSample[]): { name: string; bytes: Uint8Array } {
  const loaded = samples.filter((s) => s.clock > 700);
  const clock = loaded.reduce((sum, s) => sum + s.clock, 0) / loaded.length;
  const score = Math.round(1000 * (clock / run.rig.clock_mhz) + (run.run - 2));
  return {
    name: run.file.replace('.csv', '_score.json'),
    bytes: new TextEncoder().encode(JSON.stringify({ program: 'correlate', run: run.file, score })),
  };
}

/** One mount of the half-done study did not start, and is planned anew. */
async function failOne({ study_id }: PlanView): Promise<void> {
  const view = await planView(study_id);
  if (view.mounts.some((m) => m.state === 'failed')) return;
  const open = view.mounts.filter((m) => m.state === 'planned');
  const day = Math.min(...open.map((m) => m.day));
  const mount = open.filter((m) => m.day === day && !m.extra)[1];
  if (mount) await changeOrder(study_id, { action: 'mark', mount, state: 'failed', reason: 'No start: one screw too tight, board bent.' });
}

/** Takes a half loaded demo away again. */
async function removeDemo(): Promise<void> {
  await transaction(async (client) => {
    const titles = STUDIES.map((s) => s.title);
    for (const study of await listStudies(client)) if (titles.includes(study.title)) await deleteStudy(client, study.id);
    // rigs first: they name coolers and instruments
    for (const [section, names] of SHELF_NAMES) {
      for (const sheet of await listSheets(client, section)) {
        if (names.includes(sheet.name) && !(await isNamed(client, section, sheet.id))) await deleteSheet(client, section, sheet.id);
      }
    }
    await forgetDemo(client);
  });
}

/** The same id for the same file at every start, so that an interrupted demo goes on where it stopped. */
function seededUuid(text: string): string {
  const hex = createHash('sha256').update(`warm gauge demo ${text}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** Whether the demo was begun and not finished. */
export async function isDemoUnfinished(db: Client): Promise<boolean> {
  const rows = await many(db)`select from demo_loads where finished_at is null`;
  return rows.length > 0;
}

const beginDemo = (db: Client) => execute(db)`insert into demo_loads default values`;

const finishDemo = (db: Client) => execute(db)`update demo_loads set finished_at = now() where finished_at is null`;

const forgetDemo = (db: Client) => execute(db)`delete from demo_loads`;

/** Study 5 of the demo: one lid as it was made and lapped flat. It gains less than what matters. */

const MOUNTS = 5;
/** The first mounts are read fast enough to tell where the states part. */
const STEP_PERIOD_S = 0.1;
const STATES = [
  { specimen: 'Lid as made', file: 'as_made', gain_k: 0 },
  { specimen: 'Lid lapped', file: 'lapped', gain_k: 0.5 },
];

/** @param start seconds since 1970 of the first run */
export function lappedLidRuns(start: number): DemoRun[] {
  const random = seededRandom(7);
  const filler = MATERIALS.find((m) => m.name === 'Bramble 5') ?? MATERIALS[0];
  return STATES.flatMap(({ specimen, file, gain_k }, s) =>
    Array.from(
      { length: MOUNTS },
      (_, m): DemoRun => ({
        ...{ specimen, mount: m + 1, run: 1, file: `lid_${file}_m${m + 1}.csv`, note: '' },
        start: start + (s * MOUNTS + m) * 43_200,
        rig: NORTH_BENCH,
        simulated: {
          interface_k_per_w: filler.resistance + (0.25 * random.normal() - gain_k) / NORTH_BENCH.load_w,
          ...{ idle_s: 120, load_s: 1150, cooldown_s: 60, period_s: m === 0 ? STEP_PERIOD_S : 5, warm_start_k: 0 },
          ...{ room_c: 22.5 + 0.5 * random.normal(), room_drift_k_per_h: 0.1 * random.normal(), seed: 97_000 + 100 * s + m },
        },
      }),
    ),
  );
}
