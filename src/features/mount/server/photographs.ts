import sharp from 'sharp';
import { database, transaction } from '#app/database/pool';
import { damaged, Refusal } from '#app/refusal';
import { type WithinGroups, withinGroups } from '#core/stats/withinGroups';
import { MOST_PHOTO_BYTES, PhotographAbout } from '#features/mount/model/imprint';
import { getMountSetting } from '#features/mount/store/attempts';
import {
  countPhotographs,
  insertPhotograph,
  listStudyPrints,
  type NewPhotograph,
  photographOf,
  readPicture,
  type StudyPrint,
  setRemoved,
  updatePrint,
} from '#features/mount/store/photographs';
import { getTeardown } from '#features/shelf/store/rigs';
import { check } from '#rules/validation';

const MOST_PIXELS = 60_000_000;
const LONGEST_SIDE = 5000;
const VIEW_SIDE = 480;
const MOST_PER_MOUNT = 60;
const MOST_PER_RIG = 200;
const FORMATS = ['jpeg', 'png', 'webp'];

// of all the formats the library knows, only those that are let in are ever opened
sharp.block({ operation: ['VipsForeignLoad'] });
sharp.unblock({ operation: ['VipsForeignLoadJpegBuffer', 'VipsForeignLoadPngBuffer', 'VipsForeignLoadWebpBuffer'] });

/**
 * Opens what was uploaded, turns it upright by its EXIF mark, and writes it anew as JPEG: nothing of its metadata is kept,
 * so neither the place nor the device of its taking is.
 * @throws Refusal with a sentence where it is no photograph or too large
 */
export async function upright(bytes: Uint8Array, longest = LONGEST_SIDE): Promise<{ jpeg: Buffer; width: number; height: number }> {
  if (bytes.length > MOST_PHOTO_BYTES)
    throw new Refusal(
      `The photograph has ${Math.round(bytes.length / 1048576)} MB; up to ${MOST_PHOTO_BYTES / 1048576} MB are taken.`,
      413,
    );
  const none = () => new Refusal('This file cannot be opened as a photograph; JPEG, PNG and WebP can. Set a phone to save JPEG.');
  const image = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: 'error' });
  const about = await image.metadata().catch((error: Error) => {
    throw /pixel limit/i.test(error.message)
      ? new Refusal(`The photograph has more than ${MOST_PIXELS / 1e6} megapixels; make it smaller.`, 413)
      : none();
  });
  if (!FORMATS.includes(about.format)) throw none();
  if (about.width * about.height > MOST_PIXELS)
    throw new Refusal(`The photograph has more than ${MOST_PIXELS / 1e6} megapixels; make it smaller.`, 413);
  const { data, info } = await image
    .autoOrient()
    .resize({ width: longest, height: longest, fit: 'inside', withoutEnlargement: true })
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: 92 })
    .toBuffer({ resolveWithObject: true })
    .catch(() => {
      throw new Refusal('The photograph is incomplete; the upload may have been interrupted.');
    });
  return { jpeg: data, width: info.width, height: info.height };
}

/**
 * Saves a photograph into a mount's record; with face, reading and figures it is a print.
 * @param view the part seen straight from above, as it was measured; for a print alone
 */
export async function savePhotograph(mountId: number, photo: Uint8Array, given: unknown, view: Uint8Array | null): Promise<{ id: number }> {
  const about = check(PhotographAbout, given);
  const print = await printOf(about, view);
  const picture = await upright(photo);
  return transaction(async (client) => {
    if (!(await getMountSetting(client, mountId))) throw new Refusal(`There is no mount ${mountId}.`, 404);
    if ((await countPhotographs(client, { mount_id: mountId })) >= MOST_PER_MOUNT)
      throw new Refusal(`A mount holds up to ${MOST_PER_MOUNT} photographs.`, 409);
    const id = await insertPhotograph(client, {
      mount_id: mountId,
      rig_id: null,
      who: about.who?.trim() ?? '',
      caption: about.caption?.trim() ?? '',
      ...picture,
      print,
    });
    return { id };
  });
}

/** Saves a photograph of a step of taking a rig apart. */
export async function saveRigPhotograph(rigId: number, photo: Uint8Array, given: unknown): Promise<{ id: number }> {
  const about = check(PhotographAbout, given);
  const picture = await upright(photo);
  return transaction(async (client) => {
    if (!(await getTeardown(client, rigId))) throw new Refusal(`There is no rig ${rigId}.`, 404);
    if ((await countPhotographs(client, { rig_id: rigId })) >= MOST_PER_RIG)
      throw new Refusal(`A rig holds up to ${MOST_PER_RIG} photographs.`, 409);
    const words = { who: about.who?.trim() ?? '', caption: about.caption?.trim() ?? '' };
    return { id: await insertPhotograph(client, { mount_id: null, rig_id: rigId, ...words, ...picture, print: null }) };
  });
}

/** Reads a print anew: other corners, another threshold. */
export async function saveReading(id: number, given: unknown, view: Uint8Array | null): Promise<{ id: number }> {
  const print = await printOf(check(PhotographAbout, given), view);
  if (!print) throw new Refusal('An imprint is saved with its face, reading and figures.');
  await transaction(async (client) => {
    if (!(await photographOf(client, id))) throw new Refusal(`There is no photograph ${id}.`, 404);
    await updatePrint(client, id, print);
  });
  return { id };
}

async function printOf({ face, reading, figures }: PhotographAbout, view: Uint8Array | null): Promise<NewPhotograph['print']> {
  if (!face && !reading && !figures && !view) return null;
  if (!face || !reading || !figures || !view)
    throw new Refusal('An imprint is saved with its face, its reading, its figures and the part seen from above.');
  return { face, reading, figures, view_jpeg: (await upright(view, VIEW_SIDE)).jpeg };
}

/** Takes a photograph out of its mount's record, or puts it back. */
export async function removePhotograph(id: number, removed: unknown): Promise<{ id: number }> {
  if (typeof removed !== 'boolean') throw new Refusal('Say whether it is removed: true or false.');
  if (!(await photographOf(database(), id))) throw new Refusal(`There is no photograph ${id}.`, 404);
  await setRemoved(database(), id, removed);
  return { id };
}

/** The picture as JPEG, smaller where it is only glanced at. */
export async function picture(id: number, what: 'photograph' | 'view', small: boolean): Promise<Buffer> {
  const kept = await readPicture(database(), id, what);
  if (!kept) throw new Refusal(`There is no photograph ${id}.`, 404);
  if (!kept.intact) throw damaged(`Photograph ${id}`);
  const jpeg = kept.picture;
  return small
    ? sharp(jpeg).resize({ width: 360, height: 360, fit: 'inside', withoutEnlargement: true }).jpeg({ quality: 80 }).toBuffer()
    : jpeg;
}

/** A stored print that is to be read anew, as the address names it; null where it names none. */
export async function storedPrint(id: string | null) {
  if (id === null) return null;
  const row = /^[1-9]\d{0,14}$/.test(id) ? await photographOf(database(), Number(id)) : null;
  if (!row?.face || !row.reading || row.mount_id === null) throw new Refusal(`There is no imprint ${id}.`, 404);
  return { id: row.id, mount_id: row.mount_id, face: row.face, reading: row.reading };
}

interface StudyPrints {
  series: { specimen_id: number; specimen: string; position: number; prints: StudyPrint[] }[];
  /** K for each point of cover within specimens; null while too few are known */
  effect: WithinGroups | null;
  /** prints whose cover is a range, and takes no part in the effect */
  unsure: number;
}

/** Prints of a study beside each other, by specimen, and how their cover goes with the mount's value. */
export async function studyPrints(studyId: number): Promise<StudyPrints> {
  const series: StudyPrints['series'] = [];
  for (const p of await listStudyPrints(database(), studyId)) {
    let own = series.find((s) => s.specimen_id === p.specimen_id);
    if (!own) {
      own = { specimen_id: p.specimen_id, specimen: p.specimen, position: p.position, prints: [] };
      series.push(own);
    }
    own.prints.push(p);
  }
  const groups = series.map(({ prints }) => {
    // one point a mount: its part's face, or whichever there is; of several the last. A cover that is a range is no point
    const read = prints.filter((p) => p.rise_k !== null && p.figures);
    const byMount = new Map(read.map((p) => [p.mount_number, p]));
    for (const p of read) if (p.face === 'part') byMount.set(p.mount_number, p);
    const chosen = [...byMount.values()].filter((p) => !p.figures?.unsure);
    return { x: chosen.map((p) => 100 * (p.figures?.cover ?? 0)), y: chosen.map((p) => Number(p.rise_k)) };
  });
  const unsure = series.reduce((sum, { prints }) => sum + prints.filter((p) => p.figures?.unsure).length, 0);
  return { series, effect: withinGroups(groups), unsure };
}
