import { readFile } from 'node:fs/promises';
import { database } from '#app/database/pool';
import type { Face, ImprintFigures, ImprintReading } from '#features/mount/model/imprint';
import { savePhotograph } from '#features/mount/server/photographs';
import { listGrid } from '#features/mount/store/attempts';
import { listStudyPrints } from '#features/mount/store/photographs';
import { listSpecimens } from '#features/study/store/studies';
import prints from './prints/prints.json';

/** A photograph of a separated face, drawn once by `drawPrints.ts`, with what was read from it. */
export interface DemoPrint {
  specimen: string;
  mount: number;
  face: Face;
  reading: ImprintReading;
  figures: ImprintFigures;
}

/** Where the drawn photographs lie, from the folder of the application. */
export const PRINTS_FOLDER = 'src/demo/prints';

/** The photograph of a print, and the part in it seen straight from above. */
export function printFiles({ specimen, mount, face }: Pick<DemoPrint, 'specimen' | 'mount' | 'face'>): { photo: string; view: string } {
  const name = `${PRINTS_FOLDER}/${specimen.toLowerCase().replaceAll(' ', '_')}_${mount}_${face}`;
  return { photo: `${name}.jpg`, view: `${name}_view.jpg` };
}

/** Puts the drawn photographs into the records of their mounts. */
export async function takePrints(studyId: number): Promise<void> {
  const db = database();
  if ((await listStudyPrints(db, studyId)).length > 0) return;
  const [mounts, specimens] = await Promise.all([listGrid(db, studyId), listSpecimens(db, studyId)]);
  for (const print of prints as DemoPrint[]) {
    const specimen = specimens.find((s) => s.name === print.specimen);
    const mount = mounts.find((m) => m.specimen_id === specimen?.id && m.number === print.mount);
    if (!mount) continue;
    const { photo, view } = printFiles(print);
    const { face, reading, figures } = print;
    const about = { who: 'EB', caption: 'drawn for the demo', face, reading, figures };
    await savePhotograph(mount.id, await readFile(photo), about, await readFile(view));
  }
}
