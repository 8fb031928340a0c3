// The rule check does not read .astro files: their imports are held to the same rooms here.
import { readdirSync, readFileSync } from 'node:fs';
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

const files = readdirSync('src', { recursive: true })
  .map((f) => String(f).replaceAll('\\', '/'))
  .filter((f) => f.endsWith('.astro'));
const bad = files.flatMap((f) =>
  readFileSync(`src/${f}`, 'utf8')
    .split('\n')
    .flatMap((line, i) => {
      const found = /^import (type )?.*from '(#[^']+)'/.exec(line);
      const why = found && problem(f, found[1] !== undefined, found[2]);
      return why ? [`src/${f}:${i + 1}: ${why}: ${line.trim()}`] : [];
    }),
);
for (const line of bad) console.error(line);
console.log(`${files.length} .astro files, ${bad.length} imports against the direction`);
process.exit(bad.length > 0 ? 1 : 0);
