// Measures speed: npm run bench [NAME …], such as `npm run bench store results`; all of them where none is named
import { spawnSync } from 'node:child_process';

const ALL = ['run', 'start', 'memory', 'package', 'drag', 'transient', 'store', 'live', 'results', 'ranking', 'lab', 'scale'];
const asked = process.argv.slice(2);
const unknown = asked.filter((name) => !ALL.includes(name));
if (unknown.length > 0) {
  console.error(`There is no benchmark ${unknown.join(', ')}; there are ${ALL.join(', ')}.`);
  process.exit(2);
}
for (const name of asked.length > 0 ? asked : ALL) {
  const { status } = spawnSync('npx', ['tsx', `benchmarks/${name}.ts`], { stdio: 'inherit' });
  if (status !== 0) process.exit(status ?? 1);
}
