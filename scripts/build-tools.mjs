// Bundles what runs outside the Astro build: headless commands, server launcher, reduction job, demo loader.
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { build } from 'esbuild';

const only = process.argv[2];
const entries = {
  cli: 'src/cli/main.ts',
  serve: 'src/server/serve.ts',
  prepare: 'src/server/prepare.ts',
  'reduction.job': 'src/server/jobs/reduction.job.ts',
};
const chosen = only ? { [only]: entries[only] } : entries;

if (!only) rmSync('build', { recursive: true, force: true });
mkdirSync('build', { recursive: true });
await build({
  entryPoints: chosen,
  outdir: 'build',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  sourcemap: false,
  logLevel: 'warning',
  // some dependencies call require() inside ES modules
  banner: { js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);" },
  external: ['pg-native', '../dist/*'],
});
const { version } = JSON.parse(readFileSync('package.json', 'utf8'));
writeFileSync('build/version', `${version}\n`);
