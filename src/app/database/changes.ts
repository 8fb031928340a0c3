import { execute, many } from '#app/database/query';
import type { Client } from './pool';

/** What a change is about. */
type ChangeSubject = 'run' | 'mount' | 'report';

/** One entry of the journal of changes; it is never altered. */
export interface ChangeRow<T = unknown> {
  id: number;
  at: Date;
  who: string;
  subject: ChangeSubject;
  subject_id: number;
  action: string;
  reason: string;
  before: T;
  after: T;
  /** the change that this one takes back */
  undoes: number | null;
  /** the change that took this one back */
  undone_by: number | null;
}

type NewChange<T = unknown> = Pick<ChangeRow<T>, 'who' | 'subject' | 'subject_id' | 'action' | 'reason' | 'before' | 'after'> & {
  undoes?: number;
};

/** Adds an entry to the journal. */
export const insertChange = (db: Client, c: NewChange) => execute(db)`
  insert into changes (who, subject, subject_id, action, reason, before, after, undoes)
  values (${c.who}, ${c.subject}, ${c.subject_id}, ${c.action}, ${c.reason},
    ${JSON.stringify(c.before)}, ${JSON.stringify(c.after)}, ${c.undoes ?? null})`;

/** The journal of one thing, the oldest first. */
export const listChanges = <T>(db: Client, subject: ChangeSubject, id: number) => many<ChangeRow<T>>(db)`
  select c.*, u.id as undone_by from changes c left join changes u on u.undoes = c.id
  where c.subject = ${subject} and c.subject_id = ${id} order by c.id`;
