import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { allocator } from '../scripts/allocator.mjs';
import { freePort } from '../scripts/store.mjs';
import { untilDemoLoaded } from '../tests/demoStore.ts';

export const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

export interface BuiltApp {
  url: string;
  /** resident memory in bytes, as the system counts it */
  memory: () => number;
  stop: () => void;
}

/** The built application on a store, as the measurements use it. */
export async function startBuiltApp(databaseUrl: string, options: string[] = [], more: Record<string, string> = {}): Promise<BuiltApp> {
  if (!existsSync('build/built')) throw new Error('There is no build to measure; run "npm run build" first.');
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const child: ChildProcess = spawn('node', ['build/serve.mjs', ...options], {
    env: {
      ...process.env,
      ...allocator(),
      DATABASE_URL: databaseUrl,
      PORT: String(port),
      HOST: '127.0.0.1',
      NODE_ENV: 'production',
      ...more,
    },
    stdio: ['ignore', options.includes('--demo') ? 'pipe' : 'ignore', 'ignore'],
  });
  if (options.includes('--demo')) await untilDemoLoaded(child);
  for (let i = 0; ; i++) {
    if ((await fetch(`${url}/api/health`).catch(() => null))?.ok) break;
    if (i === 1800) throw new Error('The application did not answer within three minutes.');
    await new Promise((done) => setTimeout(done, 100));
  }
  return {
    url,
    memory: () => 1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1]),
    stop: () => child.kill('SIGKILL'),
  };
}
