import { database } from '#app/database/pool';
import { choiceOf } from '#features/ranking/model/choiceAddress';
import { isNews } from '#features/ranking/model/control';
import { getLabState } from '#features/ranking/store/keptRankings';
import { getSheetState } from '#features/ranking/store/sheetChanges';
import { keptRanking } from './evidence';
import { labControl } from './labControl';

/** A set-up whose reference does not read as it did. */
export interface LabFinding {
  key: string;
  setup: string;
  reference: string;
  sentence: string;
}

const DAY_MS = 86_400_000;

/** What the charts of the lab have to say of the bench as it is now; kept until something in the lab changes, for a day at most. */
export const labFindings = async (): Promise<LabFinding[]> => {
  const db = database();
  const now = Math.floor(Date.now() / DAY_MS) * DAY_MS;
  const [state, sheets] = await Promise.all([getLabState(db), getSheetState(db)]);
  return keptRanking('lab_findings', { state, sheets, now }, async () => {
    const { controls, reference } = await labControl(choiceOf(new URLSearchParams()));
    return controls
      .filter((c) => isNews(c, now / 1000))
      .map(({ setup, name, sentence }): LabFinding => ({ key: setup, setup: name, reference: reference?.name ?? '', sentence }));
  });
};
