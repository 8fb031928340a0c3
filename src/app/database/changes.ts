import type { Client } from './pool';

/** What a change is about. */
type ChangeSubject = 'run' | 'mount';

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
export async function insertChange(db: Client, c: NewChange): Promise<void> {
  await db.query(
    'insert into changes (who, subject, subject_id, action, reason, before, after, undoes) values ($1, $2, $3, $4, $5, $6, $7, $8)',
    [...[c.who, c.subject, c.subject_id, c.action, c.reason, JSON.stringify(c.before), JSON.stringify(c.after), c.undoes ?? null]],
  );
}

/** The journal of one thing, the oldest first. */
export async function listChanges<T>(db: Client, subject: ChangeSubject, id: number): Promise<ChangeRow<T>[]> {
  const { rows } = await db.query<ChangeRow<T>>(
    `select c.*, u.id as undone_by from changes c left join changes u on u.undoes = c.id
     where c.subject = $1 and c.subject_id = $2 order by c.id`,
    [subject, id],
  );
  return rows;
}
