import { spawn } from 'node:child_process';
import { connect, createServer, type Server, type Socket } from 'node:net';
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core';
import { inject } from 'vitest';
import { CHROMIUM } from '../../scripts/chromium.mjs';
import { freshDatabase } from '../database.ts';
import { freePort, untilHealthy } from '../demoStore.ts';
import { PATIENCE_MS } from '../patience.ts';

/** The production build, running against a database of its own that is reached through a line that can be cut. */
export interface App {
  url: string;
  /** cuts the line between application and store, and refuses new connections */
  cutStore: () => Promise<void>;
  restoreStore: () => Promise<void>;
  /** the store, past the line that can be cut */
  databaseUrl: string;
  /** ends the application as a power cut does, and starts it again at its address */
  killAndRestart: () => Promise<void>;
  newPage: (options?: Parameters<Browser['newContext']>[0]) => Promise<Page>;
  /** what the pages' policy refused so far was meant to be refused */
  forgiveRefused: () => void;
  stop: () => Promise<void>;
}

/**
 * @param store what it finds there: nothing, or the demo
 * @param more further variables of its environment
 */
export async function startApp(
  store: 'empty' | 'demo' = 'empty',
  more: (databaseUrl: string) => Record<string, string> = () => ({}),
): Promise<App> {
  const { url: databaseUrl, drop } = await freshDatabase(store === 'demo' ? inject('demoStore') : undefined);
  const line = await cuttableLine(Number(new URL(databaseUrl).port));
  const through = new URL(databaseUrl);
  through.port = String(line.port);
  const port = await freePort();
  const start = () =>
    spawn('node', ['build/serve.mjs'], {
      env: {
        ...{ ...process.env, DATABASE_URL: through.href, HOST: '127.0.0.1', PORT: String(port), NODE_ENV: 'production' },
        // a slow machine starts it again later than the load watch would wait
        WARM_GAUGE_LOAD_GRACE_MS: '60000',
        ...more(databaseUrl),
      },
      stdio: ['ignore', 'ignore', 'inherit'],
    });
  let child = start();
  const url = `http://127.0.0.1:${port}`;
  await untilHealthy(url, child);
  const browser = await chromium.launch(CHROMIUM);
  const contexts: BrowserContext[] = [];
  const refused: string[] = [];
  return {
    url,
    cutStore: line.cut,
    restoreStore: line.restore,
    databaseUrl,
    async killAndRestart() {
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGKILL');
      await gone;
      child = start();
      await untilHealthy(url, child);
    },
    async newPage(options) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: 'light', ...options });
      context.setDefaultTimeout(PATIENCE_MS);
      contexts.push(context);
      context.on('console', (m) => /content security policy/i.test(m.text()) && refused.push(`${m.page()?.url()}: ${m.text()}`));
      return context.newPage();
    },
    forgiveRefused: () => void refused.splice(0),
    async stop() {
      await browser.close();
      const gone = new Promise((done) => child.once('exit', done));
      child.kill('SIGTERM');
      await gone;
      await line.cut();
      await drop();
      if (refused.length > 0) throw new Error(`The pages' own policy kept something of theirs from working:\n${refused.join('\n')}`);
    },
  };
}

/** A port that passes everything on to another until it is cut. */
async function cuttableLine(target: number) {
  const sockets = new Set<Socket>();
  let server: Server;
  const listen = (port: number) =>
    new Promise<number>((done) => {
      server = createServer((near) => {
        const far = connect(target, '127.0.0.1');
        for (const s of [near, far]) {
          sockets.add(s);
          s.on('error', () => {});
          s.on('close', () => {
            sockets.delete(s);
            near.destroy();
            far.destroy();
          });
        }
        near.pipe(far);
        far.pipe(near);
      }).listen(port, '127.0.0.1', () => done((server.address() as { port: number }).port));
    });
  const port = await listen(0);
  return {
    port,
    async cut() {
      for (const s of sockets) s.destroy();
      await new Promise((done) => server.close(done));
    },
    async restore() {
      await listen(port);
    },
  };
}

/** Opens a place and waits until its islands have come to life, and what is typed is kept. */
export async function open(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page.waitForFunction(() => {
    const keeps = document.querySelector('astro-island[component-url*=KeptBar]') === null || 'keeps' in document.documentElement.dataset;
    return keeps && document.querySelector('astro-island[ssr]') === null;
  });
}

/** Drops files on the page as a person does: drag them in, let go. */
export async function dropFiles(page: Page, files: { name: string; bytes: Uint8Array }[]): Promise<void> {
  const plain = files.map((f) => ({ name: f.name, base64: Buffer.from(f.bytes).toString('base64') }));
  const transfer = await page.evaluateHandle((list) => {
    const data = new DataTransfer();
    for (const f of list) data.items.add(new File([Uint8Array.from(atob(f.base64), (c) => c.charCodeAt(0))], f.name));
    return data;
  }, plain);
  await page.dispatchEvent('body', 'dragenter', { dataTransfer: transfer });
  await page.getByText('Drop it here').dispatchEvent('drop', { dataTransfer: transfer });
}
