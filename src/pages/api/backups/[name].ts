import { endpoint } from '#app/http';
import { downloadBackup } from '#features/bench/server/backups';

/** A backup to take along. */
export const GET = endpoint((ask) => [ask.part('name')], downloadBackup);
