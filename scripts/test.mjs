// Everything that is checked, against a throw-away store; the last line counts what passed and failed.
import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { startStore } from './store.mjs';

const OUT = '.test-output';
let passed = 0;
let failed = 0;

/** Runs a command, its output shown only where it fails. */
function run(command, args, env = {}) {
  return new Promise((done) => {
    const child = spawn(command, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    child.stdout.on('data', (d) => {
      output += d;
    });
    child.stderr.on('data', (d) => {
      output += d;
    });
    child.on('error', (e) => done({ ok: false, output: String(e) }));
    child.on('close', (code) => done({ ok: code === 0, output }));
  });
}

/** One check that passes or fails as a whole. */
async function check(name, command, args) {
  const start = Date.now();
  const { ok, output } = await run(command, args);
  if (ok) passed++;
  else failed++;
  console.log(`${ok ? 'passed' : 'FAILED'}  ${name} (${seconds(start)} s)`);
  if (!ok) console.log(output);
  return ok;
}

/** One project of Vitest, its tests counted singly. */
async function vitest(project, env = {}) {
  const start = Date.now();
  const report = path.join(OUT, `${project}.json`);
  rmSync(report, { force: true });
  const { ok, output } = await run('npx', ['vitest', 'run', '--project', project, '--reporter=default', '--reporter=json', `--outputFile.json=${report}`], env);
  let counts = { numPassedTests: 0, numFailedTests: 0 };
  try {
    counts = JSON.parse(readFileSync(report, 'utf8'));
  } catch {
    // no report: the run itself failed
  }
  passed += counts.numPassedTests;
  failed += counts.numFailedTests + (ok || counts.numFailedTests > 0 ? 0 : 1);
  console.log(`${ok ? 'passed' : 'FAILED'}  ${project} tests: ${counts.numPassedTests} passed, ${counts.numFailedTests} failed (${seconds(start)} s)`);
  if (!ok) console.log(output);
}

const seconds = (start) => ((Date.now() - start) / 1000).toFixed(0);

mkdirSync(OUT, { recursive: true });
const begin = Date.now();
// the type check and the build take longest: they share the two cores
const built = check('build', 'npm', ['run', '--silent', 'build']);
await check('format and lint', 'npx', ['biome', 'ci', '.']);
await check('dependency rules', 'npm', ['run', '--silent', 'rules']);
await check('types', 'npm', ['run', '--silent', 'types']);
if (await built) {
  const store = await startStore('-c fsync=off -c full_page_writes=off');
  try {
    const env = { TEST_DATABASE_URL: store.url };
    await vitest('unit', env);
    // one after the other: both follow a bench that is faster than a real one, and look late where others hold the cores
    await vitest('db', env);
    await vitest('live', env);
    await vitest('browser', env);
  } finally {
    store.stop();
  }
} else {
  await vitest('unit');
  console.log('FAILED  database and browser tests: there is no build to test');
  failed++;
}
console.log(`all of it took ${seconds(begin)} s`);
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed > 0 ? 1 : 0);
