import { existsSync } from 'node:fs';

/** Debian's Chromium without what draws windows: the same pages in three quarters of the time. Where it is missing, the whole one does. */
const HEADLESS = '/usr/bin/chromium-headless-shell';

/** How Debian's Chromium is started, headless and without asking the network for anything. */
export const CHROMIUM = {
  executablePath: existsSync(HEADLESS) ? HEADLESS : '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
