// Everything that is checked, against a throw-away store; what failed stands last, each with the line that repeats it.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { startStore } from './store.mjs';

const OUT = '.test-output';
let passed = 0;
/** what failed, and how it is repeated alone */
const failures = [];

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
  else failures.push({ what: name, repeat: [command, ...args].join(' ') });
  console.log(`${ok ? 'passed' : 'FAILED'}  ${name} (${seconds(start)} s)`);
  if (!ok) console.log(output);
  return ok;
}

/** Takes only the time of the processors that nobody else wants. */
const ASIDE = existsSync('/usr/bin/chrt') ? ['chrt', '--idle', '0'] : ['nice', '-n', '19'];

/** One project of Vitest, its tests counted singly. */
async function vitest(project, env = {}, before = []) {
  const start = Date.now();
  const report = path.join(OUT, `${project}.json`);
  rmSync(report, { force: true });
  const reporters = ['--reporter=default', '--reporter=json', `--outputFile.json=${report}`];
  const [command, ...args] = [...before, 'npx', 'vitest', 'run', '--project', project, ...reporters];
  const { ok, output } = await run(command, args, env);
  const { numPassedTests, testResults } = read(report);
  const alone = project === 'unit' ? 'npm test' : `npm run test:store ${project}`;
  const known = failures.length;
  for (const { name, status, assertionResults } of testResults) {
    const file = path.relative('.', name);
    const failed = assertionResults.filter((t) => t.status === 'failed');
    for (const t of failed) failures.push({ what: `${file}: ${t.fullName}`, repeat: `${alone} ${file} -- -t ${JSON.stringify(t.title)}` });
    if (failed.length === 0 && status === 'failed') failures.push({ what: `${file} could not be run`, repeat: `${alone} ${file}` });
  }
  if (!ok && failures.length === known) failures.push({ what: `${project} tests could not be run`, repeat: alone });
  passed += numPassedTests;
  console.log(
    `${ok ? 'passed' : 'FAILED'}  ${project} tests: ${numPassedTests} passed, ${failures.length - known} failed (${seconds(start)} s)`,
  );
  if (!ok) console.log(output);
}

function read(report) {
  try {
    return JSON.parse(readFileSync(report, 'utf8'));
  } catch {
    // no report: the run itself failed
    return { numPassedTests: 0, testResults: [] };
  }
}

const seconds = (start) => ((Date.now() - start) / 1000).toFixed(0);

mkdirSync(OUT, { recursive: true });
const begin = Date.now();
// the type check and the build take longest: they share the two cores
const built = check('build', 'npm', ['run', '--silent', 'build']);
await check('format and lint', 'npx', ['biome', 'ci', '--colors=off', '.']);
await check('dependency rules', 'npm', ['run', '--silent', 'rules']);
await check('types', 'npm', ['run', '--silent', 'types']);
if (await built) {
  const store = await startStore('-c fsync=off -c full_page_writes=off');
  try {
    const env = { TEST_DATABASE_URL: store.url };
    // a load of the processors leaves them to whatever else there is, and so is measured alone
    await vitest('load', env);
    await vitest('measure', env);
    // what is followed in time mostly waits: what computes and what waits for the store steps aside for it
    await Promise.all([vitest('live', env), vitest('unit', env, ASIDE), vitest('db', env, ASIDE)]);
    await vitest('browser', env);
  } finally {
    store.stop();
  }
} else {
  await vitest('unit');
  failures.push({ what: 'store and browser tests: there is no build to test', repeat: 'npm run build' });
}
console.log(`all of it took ${seconds(begin)} s`);
for (const { what, repeat } of failures) console.log(`FAILED  ${what}\n        again: ${repeat}`);
console.log(`${passed} passed, ${failures.length} failed`);
process.exit(failures.length > 0 ? 1 : 0);
