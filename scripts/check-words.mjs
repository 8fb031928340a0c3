// Refuses phrases that were retired: in every text of the sources that a person may read, and in the README.
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';

const phrases = readFileSync('scripts/retired-phrases.txt', 'utf8')
  .split('\n')
  .filter((l) => l.trim() !== '' && !l.startsWith('#'));
const files = readdirSync('src', { recursive: true })
  .map((f) => path.join('src', String(f)))
  .filter((f) => /\.(ts|tsx|astro)$/.test(f) && !f.endsWith('.test.ts'));

/** Comments are the builders' own; their lines stay, so that a phrase is told with its line. */
const withoutComments = (text) =>
  text
    .replace(/\/\*[\s\S]*?\*\//g, (c) => c.replace(/[^\n]/g, ' '))
    .replace(/(^|[^:'"`])\/\/.*$/gm, '$1')
    // a sentence that was broken over lines is one
    .replace(/\n\s+(?=[a-z])/g, ' ');

let found = 0;
for (const file of [...files, 'README.md']) {
  const text = file.endsWith('.md') ? readFileSync(file, 'utf8') : withoutComments(readFileSync(file, 'utf8'));
  for (const phrase of phrases) {
    const at = text.toLowerCase().indexOf(phrase.toLowerCase());
    if (at < 0) continue;
    found++;
    console.error(
      `${file}: "${text
        .slice(Math.max(0, at - 30), at + phrase.length + 30)
        .replace(/\s+/g, ' ')
        .trim()}" says “${phrase}”`,
    );
  }
}
console.log(`${found} retired phrases in ${files.length} files`);
process.exit(found === 0 ? 0 : 1);
