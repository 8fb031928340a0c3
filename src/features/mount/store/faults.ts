import type { Client } from '#app/database/pool';
import { execute, many, sql, touches } from '#app/database/query';
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

/** Faults that were reported of a mount, in the order of their reports. */
export const listFaults = (db: Client, mountId: number) =>
  many<FaultRow>(db)`select * from mount_faults where mount_id = ${mountId} order by id`;

/** Reports a fault, and flags the runs that the mount has by now. */
export async function insertFault(
  db: Client,
  fault: { mount_id: number; kind: FaultKind; note: string; who: string },
  message: string,
): Promise<void> {
  await execute(db)`
    insert into mount_faults (mount_id, kind, note, who) values (${fault.mount_id}, ${fault.kind}, ${fault.note}, ${fault.who})`;
  await execute(db)`
    insert into findings (run_id, code, severity, message) select id, 'fault_later', 'warn', ${message} 
    from runs where mount_id = ${fault.mount_id}`;
}

/** Sets or takes back a check of a fault; the check's name is one of two columns, as its type says. */
export async function checkFault(db: Client, mountId: number, id: number, check: FaultCheck, done: boolean): Promise<boolean> {
  const column = check === 'inspected_at' ? sql`inspected_at` : sql`moved_at`;
  return touches(db)`update mount_faults set ${column} = case when ${done} then now() end where id = ${id} and mount_id = ${mountId}`;
}
