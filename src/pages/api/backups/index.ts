import { endpoint } from '#app/http';
import { backupsView, cancelBackup, startBackup } from '#features/bench/server/backups';

/** Backups of the store: what there is, and what is being made. */
export const GET = endpoint(() => [], backupsView);

/** Begins a backup. */
export const POST = endpoint(() => [], startBackup, 202);

/** Stops the backup that is being made. */
export const DELETE = endpoint(() => [], cancelBackup);
