import type { Client } from '#app/database/pool';
import { many, touches } from '#app/database/query';

/** What an upgrade changed in a study. */
export interface Notice {
  id: number;
  message: string;
  told_at: Date;
}

/** Notices of a study that nobody has closed yet. */
export const listNotices = (db: Client, studyId: number) =>
  many<Notice>(db)`select id, message, told_at from notices where study_id = ${studyId} and seen_at is null order by id`;

/** Closes a notice; false where there is none. */
export const closeNotice = (db: Client, id: number) => touches(db)`update notices set seen_at = now() where id = ${id} and seen_at is null`;
