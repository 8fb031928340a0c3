// Tests that need a store, in a throw-away one: npm run test:store db mount, npm run test:store browser plan, npm run test:store live.
import { spawnSync } from 'node:child_process';
import { startStore } from './store.mjs';

const [project = 'db', ...files] = process.argv.slice(2);
const store = await startStore('-c fsync=off -c full_page_writes=off');
const { status } = spawnSync('npx', ['vitest', 'run', '--project', project, ...files], {
  stdio: 'inherit',
  env: { ...process.env, TEST_DATABASE_URL: store.url },
});
store.stop();
process.exit(status ?? 1);
