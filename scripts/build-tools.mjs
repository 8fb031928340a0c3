// Bundles what runs outside the Astro build: headless commands, server launcher, worker job; with --watch the worker job again where it
// changes.
import { mkdirSync, rmSync } from 'node:fs';
import { build, context } from 'esbuild';

const entries = {
  cli: 'src/cli/main.ts',
  serve: 'src/serve.ts',
  check: 'src/check.ts',
  backup: 'src/backup.ts',
  restore: 'src/restore.ts',
  package: 'src/package.ts',
  verify: 'src/verify.ts',
  import: 'src/import.ts',
  'load-watch': 'src/features/live/server/loadWatch.ts',
  'tasks.job': 'src/tasks.job.ts',
};
const watch = process.argv.includes('--watch');
const only = watch ? 'tasks.job' : process.argv[2];
if (!only) rmSync('build', { recursive: true, force: true });
mkdirSync('build', { recursive: true });

const shared = {
  outdir: 'build',
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  logLevel: 'warning',
  tsconfig: 'tsconfig.json',
};
// the command line starts often and should start fast: one file with everything in it
const whole = {
  ...shared,
  minifySyntax: true,
  banner: { js: "import { createRequire as __createRequire } from 'node:module'; const require = __createRequire(import.meta.url);" },
};
// the agent is copied to other machines: one file, served as it is
const agent = {
  ...shared,
  target: 'node18',
  minify: true,
  legalComments: 'none',
  outdir: 'dist/client',
  banner: { js: '// The agent of Warm Gauge: node agent.mjs --help' },
  entryPoints: { agent: 'src/agent/main.ts' },
};
if (!only) await build(agent);
// published pages carry it inside: one script that asks for nothing
const calculator = {
  ...shared,
  platform: 'browser',
  target: 'es2020',
  format: 'iife',
  minify: true,
  legalComments: 'none',
  entryPoints: { 'part-calculator': 'src/features/report/view/published/partCalculator.script.ts' },
};
if (!only) await build(calculator);
for (const [name, entry] of Object.entries(entries)) {
  if (only && name !== only) continue;
  const options =
    name === 'cli' ? { ...whole, entryPoints: { [name]: entry } } : { ...shared, packages: 'external', entryPoints: { [name]: entry } };
  if (watch) await (await context(options)).watch();
  else await build(options);
}
