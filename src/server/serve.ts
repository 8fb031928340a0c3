import path from 'node:path';
import { pathToFileURL } from 'node:url';
import { migrate } from '#db/migrate';
import { closeDatabase } from '#db/pool';
import { loadDemo } from '#demo/loadDemo';
import { closeWorkers } from './jobs/pool';
import { log } from './log';

/** Entry of the running application: brings the store up to date, loads the demo where asked, serves, and stops cleanly. */
async function main(): Promise<void> {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set; start the application with ./warm-gauge start or ./warm-gauge demo.');
  await migrate(url);
  if (process.argv.includes('--demo')) {
    await loadDemo((done, total) => {
      if (done % 24 === 0) process.stdout.write(`Loading the demo: ${done} of ${total} runs\n`);
    });
  }
  process.env.ASTRO_NODE_AUTOSTART = 'disabled';
  const entry = await import(pathToFileURL(path.resolve('dist/server/entry.mjs')).href);
  const running = entry.startServer();
  const port = process.env.PORT ?? '4310';
  process.stdout.write(`Warm Gauge is at http://127.0.0.1:${port}\n`);

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    await running.server.stop();
    await closeWorkers();
    await closeDatabase();
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

main().catch((error) => {
  log.fatal({ err: error }, 'start failed');
  process.stderr.write(`Warm Gauge could not start: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
