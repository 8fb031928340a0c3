import { database } from '#app/database/pool';
import type { SheetValues } from '#features/shelf/model/sections';
import type { InstrumentSheet } from '#features/shelf/model/sheets';
import { listSheets } from '#features/shelf/store/sheets';

/** An instrument of the shelf that a probe may be. */
export interface ProbeInstrument {
  id: number;
  name: string;
  sheet: SheetValues;
  version: number;
}

/** Thermometers of the shelf, and instruments that do not say what they read. */
export const probeInstruments = async (): Promise<ProbeInstrument[]> =>
  (await listSheets(database(), 'instruments'))
    .filter((i) => !i.archived && ['temperature', undefined].includes((i.sheet as InstrumentSheet).reads))
    .map(({ id, name, sheet, version }) => ({ id, name, sheet, version }));
