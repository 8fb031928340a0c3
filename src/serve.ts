import http from 'node:http';
import { createServer } from 'node:net';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import sirv from 'sirv';
import { backUpBefore } from '#app/backup/backUpBefore';
import { migrate } from '#app/database/migrate';
import { closeDatabase } from '#app/database/pool';
import { seekPrimary, storeUrl } from '#app/database/servers';
import { isLocalHost, METHODS, SECURITY_HEADERS } from '#app/headers';
import { closeWorkers } from '#app/jobs';
import { OwnStore } from '#app/ownStore';
import { keepDemoBench } from '#demo/demoBench';
import type { DemoProgress } from '#demo/demoJob';
import { benchView } from '#features/bench/server/bench';
import { Housekeeping } from '#features/bench/server/housekeeping';
import { Supervisor } from '#features/live/server/supervisor';

/** Entry of the running application: brings the store up to date, loads the demo where asked, serves, and stops cleanly. */
async function main(): Promise<void> {
  // its allocator is its own: what it starts (a browser that prints, the store) has another
  for (const name of ['LD_PRELOAD', 'MALLOC_CONF']) delete process.env[name];
  await seekPrimary();
  const url = storeUrl();
  const port = Number(process.env.PORT ?? '4310');
  await refuseTakenPort(port);
  const backups = process.env.WARM_GAUGE_BACKUPS ?? path.resolve(process.env.WARM_GAUGE_DATA ?? '.data', 'backups');
  await migrate(url, { before: backUpBefore(url, backups, (sentence) => process.stdout.write(`${sentence}\n`)) });
  const site = process.argv.includes('--dev') ? await developed() : await built(port);
  const supervisor = new Supervisor();
  supervisor.start();
  const house = new Housekeeping();
  house.start();
  const bench = keepDemoBench(`http://127.0.0.1:${port}`);
  process.stdout.write(`Warm Gauge is at http://127.0.0.1:${port}\n`);
  if (process.argv.includes('--demo'))
    void askForDemo(`http://127.0.0.1:${port}/api/demo`).catch(() => process.stdout.write('The demo is not loaded.\n'));
  // what an upgrade made stale is computed before somebody waits for it
  void benchView().catch(() => {});

  let stopping = false;
  let orphaned = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    await bench.stop();
    await Promise.all([supervisor.stop(), house.stop()]);
    await site.stop();
    await closeWorkers();
    await closeDatabase();
    if (orphaned) await OwnStore.stop();
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  const launcher = Number(process.env.WARM_GAUGE_LAUNCHER ?? 0);
  if (launcher > 0) {
    // nobody is left who would end the application and its store
    setInterval(() => {
      if (process.ppid === launcher || stopping) return;
      process.stderr.write('The program that started Warm Gauge has ended; it stops too.\n');
      orphaned = true;
      void stop();
    }, 1000).unref();
  }
}

/** Has the pages' own process load the demo where the store is empty, so that they show how far it is; says it here too. */
async function askForDemo(url: string): Promise<void> {
  const asked = await fetch(url, { method: 'POST' });
  // a store with studies of its own is left alone
  if (asked.status === 409) return;
  let { state } = (await asked.json()) as DemoProgress;
  for (let said = -1; state === 'loading'; ) {
    await new Promise((done) => setTimeout(done, 500));
    const now = (await (await fetch(url)).json()) as DemoProgress;
    state = now.state;
    const step = Math.floor(now.done / 24);
    if (step > said) process.stdout.write(`Loading the demo: ${now.done} of ${now.total} runs\n`);
    said = Math.max(said, step);
  }
  process.stdout.write(state === 'idle' ? 'The demo is loaded.\n' : 'The demo is not loaded.\n');
}

/** What answers requests. */
interface Site {
  stop: () => Promise<void>;
}

/** The build: files as they lie, compressed, and pages and endpoints by what Astro built. */
async function built(port: number): Promise<Site> {
  process.env.ASTRO_NODE_AUTOSTART = 'disabled';
  const { handler } = await import(pathToFileURL(path.resolve('dist/server/entry.mjs')).href);
  const files = sirv('dist/client', {
    brotli: true,
    setHeaders(response, file) {
      for (const [name, value] of Object.entries(SECURITY_HEADERS)) response.setHeader(name, value);
      // names under _astro change with what is in them
      response.setHeader('cache-control', file.startsWith('/_astro/') ? 'public, max-age=31536000, immutable' : 'no-cache');
    },
  });
  const server = http.createServer((request, response) => {
    const refuse = (status: number, sentence: string) =>
      response.writeHead(status, { ...SECURITY_HEADERS, 'content-type': 'text/plain' }).end(sentence);
    if (!isLocalHost(request.headers.host)) refuse(421, 'This address is not served here.');
    else if (!METHODS.includes(request.method ?? '')) refuse(405, `No address here takes ${request.method}.`);
    else if (request.method === 'GET' || request.method === 'HEAD') files(request, response, () => handler(request, response));
    else if (request.url?.startsWith('/api/')) handler(request, response);
    else refuse(405, `This address does not take ${request.method}.`);
  });
  await new Promise<void>((listening) => server.listen(port, process.env.HOST ?? '127.0.0.1', listening));
  return {
    stop: () =>
      new Promise((closed) => {
        server.close(() => closed());
        server.closeAllConnections();
      }),
  };
}

/** The sources as they are, read anew where they change. */
async function developed(): Promise<Site> {
  const { dev } = await import('astro');
  return dev({});
}

/** Says so at once where another program listens on the port, before anything else is begun. */
async function refuseTakenPort(port: number): Promise<void> {
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`PORT should be a number from 1 to 65535, not "${process.env.PORT}".`);
  await new Promise<void>((free, taken) => {
    const probe = createServer()
      .once('error', (e: NodeJS.ErrnoException) =>
        taken(
          e.code === 'EADDRINUSE'
            ? new Error(`port ${port} is taken by another program; choose another with PORT=… ./warm-gauge start.`)
            : e,
        ),
      )
      .listen(port, '127.0.0.1', () => probe.close(() => free()));
  });
}

main().catch((error) => {
  process.stderr.write(`Warm Gauge could not start: ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
});
