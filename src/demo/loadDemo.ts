import { createHash } from 'node:crypto';
import { beginDemo, finishDemo, forgetDemo, isDemoUnfinished } from '#db/demoLoads';
import { database, transaction } from '#db/pool';
import { deleteSheet, isNamed, listSheets } from '#db/shelf';
import { deleteStudy, insertMount, insertSpecimen, insertStudy, linkSpecimen, listMounts, listSpecimens, listStudies } from '#db/studies';
import { ImportPlan } from '#domain/importPlan';
import type { SectionKey } from '#domain/shelf/sections';
import { check } from '#domain/validation';
import { prepareImport, storeImport } from '#server/importRun';
import { simulateRun } from '#sim/simulateRun';
import { writeLog } from '#sim/writeLog';
import { SHELF_NAMES, stockShelf } from './shelf';
import { type DemoRun, demoRuns, MATERIALS, NORTH_BENCH } from './studyOne';

const TITLE = 'Eight materials on the TM-6 lid';

/**
 * Fills an empty store with the demo: logs of the simulated rig go through the same import as a person's files.
 * A load that was interrupted goes on where it stopped; a store with studies of its own is left alone.
 * @param progress told after each run
 * @param isCancelled asked between rounds; a cancelled load leaves nothing behind
 */
export async function loadDemo(progress: (done: number, total: number) => void, isCancelled: () => boolean = () => false): Promise<void> {
  const db = database();
  if (!(await isDemoUnfinished(db))) {
    if ((await listStudies(db)).length > 0) return;
    await beginDemo(db);
  }
  const { study, rig, specimens, mounts } = await openStudy();
  const runs = demoRuns();
  const prepare = async (run: DemoRun) => {
    const specimen = specimens.get(run.specimen) ?? 0;
    const key = `${specimen}/${run.mount}`;
    const mount = mounts.get(key) ?? (await insertMount(db, specimen, rig, run.note)).id;
    mounts.set(key, mount);
    const text = writeLog(simulateRun(NORTH_BENCH, run.simulated), run.start);
    const place = { study_id: study, specimen_id: specimen, mount_id: mount, rig_id: rig };
    const plan = check(ImportPlan, { import_id: seededUuid(run.file), reading: {}, place });
    return prepareImport(plan, [{ name: run.file, bytes: new TextEncoder().encode(text) }]);
  };
  // runs of different mounts are reduced side by side, and stored in their order
  let done = 0;
  for (let next = 0; next < runs.length; next += MATERIALS.length) {
    if (isCancelled()) return removeDemo(study);
    for (const prepared of await Promise.all(runs.slice(next, next + MATERIALS.length).map(prepare))) {
      if (!('run_id' in prepared)) await storeImport(prepared);
      progress(++done, runs.length);
    }
  }
  await finishDemo(db);
}

/** Takes a half loaded demo away again. */
async function removeDemo(study: number): Promise<void> {
  await transaction(async (client) => {
    await deleteStudy(client, study);
    // rigs first: they name coolers and instruments
    for (const [section, names] of Object.entries(SHELF_NAMES) as [SectionKey, string[]][]) {
      for (const sheet of await listSheets(client, section)) {
        if (names.includes(sheet.name) && !(await isNamed(client, section, sheet.id))) await deleteSheet(client, section, sheet.id);
      }
    }
    await forgetDemo(client);
  });
}

/** Rigs, study, specimens and mounts of the demo, made where they are not there yet. */
async function openStudy() {
  const db = database();
  const shelf = await stockShelf(db);
  const rig = shelf['North bench'];
  await insertStudy(db, {
    title: TITLE,
    question: 'Which material should go between the lid of the TM-6 correlator card and its cooler before the summer?',
    margin_k: 1,
    reduction: { power_w: NORTH_BENCH.load_w, fan_rpm: NORTH_BENCH.fan_rpm, clock_mhz: NORTH_BENCH.clock_mhz },
  });
  const study = (await listStudies(db)).find((s) => s.title === TITLE)?.id ?? 0;
  for (const m of MATERIALS) await insertSpecimen(db, study, m.name, m.kind);
  const specimens = new Map((await listSpecimens(db, study)).map((s) => [s.name, s.id]));
  for (const [name, id] of specimens) await linkSpecimen(db, id, shelf[name] ?? null, null);
  const mounts = new Map((await listMounts(db, study)).map((m) => [`${m.specimen_id}/${m.number}`, m.id]));
  return { study, rig, specimens, mounts };
}

/** The same id for the same file at every start, so that an interrupted demo goes on where it stopped. */
function seededUuid(text: string): string {
  const hex = createHash('sha256').update(`warm gauge demo ${text}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}
