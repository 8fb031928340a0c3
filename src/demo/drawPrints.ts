/**
 * Draws the photographs of the demo into src/demo/prints, once: npx tsx src/demo/drawPrints.ts, with DATABASE_URL of a store that holds the
 * demo. A mount that reads warmer covered a little less.
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import sharp from 'sharp';
import { closeDatabase, database } from '#app/database/pool';
import { readPrint, scorePrint } from '#core/image/measureImprint';
import { foundPicture, straightPicture } from '#core/image/pictures';
import type { Corners, ImprintOptions } from '#core/image/types';
import { mean } from '#core/stats/moments';
import { type Face, imprintFigures } from '#features/mount/model/imprint';
import { listGrid } from '#features/mount/store/attempts';
import { listSpecimens, listStudies } from '#features/study/store/studies';
import { type ImprintScene, photograph, someScene } from '#simulator/photograph';
import { type DemoPrint, PRINTS_FOLDER, printFiles } from './imprints';
import { SOUTH_HUT } from './plans';

/** Specimens whose faces were photographed, with the tone of their material; the rest were wiped too soon. */
const TONES: Record<string, ImprintScene['material']> = {
  'Loam White': [0.82, 0.83, 0.85],
  'Alder Grey': [0.2, 0.2, 0.21],
  'Bramble 5': [0.13, 0.17, 0.28],
};
const NICKEL: ImprintScene['metal'] = [0.5, 0.48, 0.45];
const COVER = 0.86;
/** of cover for each K that a mount lies above its specimen's mean */
const COVER_PER_K = -0.16;

const PIXELS = [720, 540] as const;

const sceneOf = (seed: number, material: ImprintScene['material'], cover: number, face: Face): ImprintScene => ({
  ...someScene(seed),
  ...{ material, cover, metal: NICKEL, glare: [], smear: null, noise: 2, turn: 3, tilt: face === 'part' ? 14 : 9 },
  mirrored: face === 'base',
  around: face === 'base' ? NICKEL : [0.03, 0.07, 0.06],
});

/** Draws a photograph of a face and reads its print, as a person does in the browser. */
async function drawPrint({ face, scene }: { face: Face; scene: ImprintScene }) {
  const photo = photograph(scene, ...PIXELS);
  const { length_mm, width_mm, mirrored } = scene;
  const reading = { length_mm, width_mm, mirrored, face_goes_on: face === 'base', swapped: false, threshold: null };
  const options: ImprintOptions = { ...reading, corners: photo.corners as Corners };
  const scored = scorePrint(photo, options);
  const print = readPrint(scored, options);
  const { columns, rows } = print.mask;
  const jpegOf = (data: Uint8ClampedArray, width: number, height: number) =>
    sharp(data, { raw: { width, height, channels: 4 } })
      .flatten()
      .jpeg()
      .toBuffer();
  return {
    photo: await jpegOf(photo.data, photo.width, photo.height),
    view: await jpegOf(foundPicture(straightPicture(scored), print), columns, rows),
    about: {
      reading: { ...reading, corners: photo.corners.map((p) => ({ x: p.x / photo.width, y: p.y / photo.height })) },
      figures: imprintFigures(print),
    },
  };
}

const db = database();
const study = (await listStudies(db)).find((s) => s.title === SOUTH_HUT.title);
if (!study) throw new Error('The store does not hold the demo.');
const rows = await listGrid(db, study.id);
const prints: DemoPrint[] = [];
mkdirSync(PRINTS_FOLDER, { recursive: true });
for (const s of await listSpecimens(db, study.id)) {
  const material = TONES[s.name];
  const mounts = rows.filter((r) => r.specimen_id === s.id && r.rise_k !== null);
  if (!material || mounts.length === 0) continue;
  const middle = mean(mounts.map((m) => Number(m.rise_k)));
  for (const [i, m] of mounts.entries()) {
    const cover = Math.max(0.4, Math.min(0.97, COVER + COVER_PER_K * (Number(m.rise_k) - middle) + (((7 * m.number) % 5) - 2) / 200));
    // both faces of the first, the part alone of the others
    for (const face of i === 0 ? (['part', 'base'] as const) : (['part'] as const)) {
      const { photo, view, about } = await drawPrint({ face, scene: sceneOf(100 * s.position + m.number, material, cover, face) });
      const print = { specimen: s.name, mount: m.number, face, ...about };
      writeFileSync(printFiles(print).photo, photo);
      writeFileSync(printFiles(print).view, view);
      prints.push(print);
    }
  }
}
writeFileSync(`${PRINTS_FOLDER}/prints.json`, `${JSON.stringify(prints, null, 2)}\n`);
await closeDatabase();
