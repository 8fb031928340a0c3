// The rule check does not read .astro files: their imports are held to the same direction here.
import { readdirSync, readFileSync } from 'node:fs';

const FORBIDDEN = /from\s+'(#db|#demo|#sim|[./]+\/(db|demo|cli|bench-sim))\//;
const files = readdirSync('src', { recursive: true })
  .map(String)
  .filter((f) => f.endsWith('.astro'));
const bad = files.flatMap((f) =>
  readFileSync(`src/${f}`, 'utf8')
    .split('\n')
    .flatMap((line, i) => (FORBIDDEN.test(line) ? [`src/${f}:${i + 1}: pages and layouts leave the store to the server: ${line.trim()}`] : [])),
);
for (const line of bad) console.error(line);
console.log(`${files.length} .astro files, ${bad.length} imports against the direction`);
process.exit(bad.length > 0 ? 1 : 0);
