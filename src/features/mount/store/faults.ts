import type { Client } from '#app/database/pool';
import type { FaultCheck, FaultKind } from '#features/mount/model/fault';

export interface FaultRow {
  id: number;
  mount_id: number;
  kind: FaultKind;
  note: string;
  who: string;
  reported_at: Date;
  inspected_at: Date | null;
  moved_at: Date | null;
}

export async function listFaults(db: Client, mountId: number): Promise<FaultRow[]> {
  const { rows } = await db.query<FaultRow>('select * from mount_faults where mount_id = $1 order by id', [mountId]);
  return rows;
}

/** Reports a fault, and flags the runs that the mount has by now. */
export async function insertFault(
  db: Client,
  fault: { mount_id: number; kind: FaultKind; note: string; who: string },
  message: string,
): Promise<void> {
  await db.query('insert into mount_faults (mount_id, kind, note, who) values ($1, $2, $3, $4)', [
    fault.mount_id,
    fault.kind,
    fault.note,
    fault.who,
  ]);
  await db.query(
    `insert into findings (run_id, code, severity, message) select id, 'fault_later', 'warn', $2 from runs where mount_id = $1`,
    [fault.mount_id, message],
  );
}

/** Sets or takes back a check of a fault; the check's name is one of two columns, as its type says. */
export async function checkFault(db: Client, mountId: number, id: number, check: FaultCheck, done: boolean): Promise<boolean> {
  const column = check === 'inspected_at' ? 'inspected_at' : 'moved_at';
  const { rowCount } = await db.query(`update mount_faults set ${column} = case when $3 then now() end where id = $2 and mount_id = $1`, [
    mountId,
    id,
    done,
  ]);
  return rowCount === 1;
}
