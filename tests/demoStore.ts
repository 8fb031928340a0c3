import { type ChildProcess, spawn } from 'node:child_process';
import { createServer } from 'node:net';
import type { TestProject } from 'vitest/node';
import { freshDatabase } from './database.ts';
import { PATIENCE_MS } from './patience.ts';

declare module 'vitest' {
  export interface ProvidedContext {
    demoStore: string;
  }
}

/** Loads the demo once, through the running application, into a database that the tests of places copy. */
export default async function loadDemoOnce(project: TestProject): Promise<() => Promise<void>> {
  const { url, drop } = await freshDatabase();
  const port = await freePort();
  const child = spawn('node', ['build/serve.mjs', '--demo'], {
    env: { ...process.env, DATABASE_URL: url, HOST: '127.0.0.1', PORT: String(port), NODE_ENV: 'production' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  await untilDemoLoaded(child);
  // a database is copied only while nobody is connected to it
  const gone = new Promise((done) => child.once('exit', done));
  child.kill('SIGTERM');
  await gone;
  project.provide('demoStore', new URL(url).pathname.slice(1));
  return drop;
}

/** Waits until an application that was started with the demo says that it is loaded. */
export const untilDemoLoaded = (child: ChildProcess): Promise<void> =>
  new Promise((done, failed) => {
    child.stdout?.on('data', (text) => {
      if (String(text).includes('The demo is loaded.')) done();
      else if (String(text).includes('The demo is not loaded.')) failed(new Error('The demo could not be loaded.'));
    });
    child.once('exit', (code) => failed(new Error(`The application ended with ${code} before the demo was loaded.`)));
  });

/** Waits until an application that was started answers. */
export async function untilHealthy(url: string, child: ChildProcess): Promise<void> {
  const end = Date.now() + 5 * PATIENCE_MS;
  while (Date.now() < end) {
    if (child.exitCode !== null) throw new Error(`The application ended with ${child.exitCode} before it answered.`);
    const answer = await fetch(`${url}/api/health`).catch(() => null);
    if (answer?.ok) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('The application did not answer within ten minutes.');
}

export async function freePort(): Promise<number> {
  return new Promise((done) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });
}
