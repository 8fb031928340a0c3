import { execFile } from 'node:child_process';
import { access, chown, mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { promisify } from 'node:util';
import pLimit from 'p-limit';
import { log } from '#app/log';
import { Refusal } from '#app/refusal';

const run = promisify(execFile);
/** Where a headless browser is looked for; WARM_GAUGE_BROWSER names another. */
const BROWSERS = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];
const LONGEST_MS = 60_000;
/** A browser does not run as root: who printed would have all rights to what a page brings along. It runs as the system's user for that. */
const NOBODY: { uid: number; gid: number } | Record<string, never> = process.getuid?.() === 0 ? { uid: 65_534, gid: 65_534 } : {};
/** one browser at a time: a second would only slow the first */
const inTurn = pLimit(1);

/** The browser that prints, where the machine has one. */
export async function printer(): Promise<string | null> {
  for (const file of [process.env.WARM_GAUGE_BROWSER, ...BROWSERS]) {
    if (!file) continue;
    if (
      await access(file).then(
        () => true,
        () => false,
      )
    )
      return file;
  }
  return null;
}

/** Prints a page of this application, given by its path, to PDF by the headless browser of the machine. */
export const printPdf = (page: string): Promise<Buffer> =>
  inTurn(async () => {
    const browser = await printer();
    if (!browser)
      throw new Refusal(
        'This machine has no headless browser to print with. Print the page from your own browser: it is laid out for paper.',
        501,
      );
    const folder = await mkdtemp(path.join(tmpdir(), 'warm-gauge-print-'));
    if (NOBODY.uid) await chown(folder, NOBODY.uid, NOBODY.gid);
    try {
      const file = path.join(folder, 'report.pdf');
      // what a request says of its own host is not asked: the application knows where it listens
      const url = `http://127.0.0.1:${process.env.PORT ?? '4310'}${page}`;
      const flags = [
        '--headless',
        '--disable-gpu',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-sync',
        '--no-pdf-header-footer',
      ];
      // the charts are drawn by scripts: virtual time lets them finish
      const print = (more: string[]) =>
        run(
          browser,
          [...flags, ...more, `--user-data-dir=${folder}/profile`, '--virtual-time-budget=6000', `--print-to-pdf=${file}`, url],
          {
            ...{ timeout: LONGEST_MS, cwd: folder, env: { ...process.env, HOME: folder, XDG_CONFIG_HOME: folder, XDG_CACHE_HOME: folder } },
            ...NOBODY,
          },
        );
      // not every machine lets the browser shut itself in
      await print([]).catch((error: { stderr?: string }) => {
        if (!/sandbox/i.test(error.stderr ?? '')) throw error;
        return print(['--no-sandbox']);
      });
      return await readFile(file);
    } catch (error) {
      log.error({ err: error }, 'printing failed');
      throw new Refusal(
        'The headless browser could not print the report. Print the page from your own browser: it is laid out for paper.',
        502,
      );
    } finally {
      await rm(folder, { recursive: true, force: true });
    }
  });
