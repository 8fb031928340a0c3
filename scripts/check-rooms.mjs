// What the rule check does not see: files in no room, and the imports of .astro files, which it does not read.
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { FEATURES } from './rooms.cjs';

/** Why a file may not import this; null where it may. */
function problem(file, isType, target) {
  const [, feature, layer] = /^#features\/(\w+)\/(\w+)\//.exec(target) ?? [];
  if (layer === 'store' || /^#(cli|simulator)\//.test(target)) return 'the store is left to the server';
  const [, own] = /^features\/(\w+)\//.exec(file) ?? [];
  if (!own) return null;
  if (/^#(demo|app)\//.test(target)) return 'a view knows no server and no demo';
  if (FEATURES.indexOf(feature) > FEATURES.indexOf(own)) return `${own} knows no later feature`;
  if (layer === 'server' && !isType) return 'a view takes only types from a server';
  return null;
}

const ROOMS = ['app', 'cli', 'core', 'demo', 'features', 'pages', 'rules', 'simulator', 'agent', 'ui'];
const ENTRIES = [
  'backup.ts',
  'check.ts',
  'env.d.ts',
  'import.ts',
  'middleware.ts',
  'package.ts',
  'restore.ts',
  'serve.ts',
  'tasks.job.ts',
  'verify.ts',
  'worker.ts',
];
const FEATURE_ROOM = new RegExp(`^features/(${FEATURES.join('|')})/(model|store|server|view)/`);

const files = readdirSync('src', { recursive: true, withFileTypes: true })
  .filter((f) => f.isFile())
  .map((f) => path.relative('src', path.join(f.parentPath, f.name)));
const lost = files
  .filter((f) => (f.startsWith('features/') ? !FEATURE_ROOM.test(f) : !ROOMS.includes(f.split('/')[0]) && !ENTRIES.includes(f)))
  .map((f) => `src/${f}: it lies in no room; CONTRIBUTING has their map`);
const pages = files.filter((f) => f.endsWith('.astro'));
const wrong = pages.flatMap((f) =>
  readFileSync(`src/${f}`, 'utf8')
    .split('\n')
    .flatMap((line, i) => {
      const found = /^import (type )?.*from '(#[^']+)'/.exec(line);
      const why = found && problem(f, found[1] !== undefined, found[2]);
      return why ? [`src/${f}:${i + 1}: ${why}: ${line.trim()}`] : [];
    }),
);
for (const line of [...lost, ...wrong]) console.error(line);
console.log(`${lost.length} files in no room; ${pages.length} .astro files, ${wrong.length} imports against the direction`);
process.exit(lost.length + wrong.length > 0 ? 1 : 0);
