import type { Client } from '#app/database/pool';
import { execute, first, touches } from '#app/database/query';
import type { LabHistory } from '#features/study/model/context';

/** Where a study came from that was measured elsewhere. */
export interface OriginRow {
  imported_at: Date;
  who: string;
  /** empty where its package does not name one */
  lab: string;
  /** measured by this lab on another machine */
  own: boolean;
  /** of the package */
  sha256: string;
  program: string;
  packaged_at: Date | null;
  /** scatter of the lab that measured it, by kind */
  lab_scatter: LabHistory[];
  /** where what was computed here differs from what the package says, a sentence each */
  differences: string[];
  /** what could not be computed anew */
  unchecked: string[];
}

/** Where a study came from; null where it was measured here. */
export const getOrigin = (db: Client, studyId: number) =>
  first<OriginRow>(db)`
    select imported_at, who, lab, own, sha256, program, packaged_at, lab_scatter, differences, unchecked
    from study_origins where study_id = ${studyId}`;

/** Notes where a study came from. */
export const insertOrigin = (db: Client, studyId: number, o: Omit<OriginRow, 'imported_at'>) => execute(db)`
  insert into study_origins (study_id, who, lab, own, sha256, program, packaged_at, lab_scatter, differences, unchecked)
  values (${studyId}, ${o.who}, ${o.lab}, ${o.own}, ${o.sha256}, ${o.program}, ${o.packaged_at}, ${JSON.stringify(o.lab_scatter)},
    ${JSON.stringify(o.differences)}, ${JSON.stringify(o.unchecked)})`;

/** Says whether a study counts as this lab's own; false where it was measured here anyway. What rests on the lab's scatter is told anew. */
export const setOwn = async (db: Client, studyId: number, own: boolean): Promise<boolean> => {
  if (!(await touches(db)`update study_origins set own = ${own} where study_id = ${studyId}`)) return false;
  await execute(db)`update study_versions set runs_version = runs_version + 1 where study_id = ${studyId}`;
  return true;
};
