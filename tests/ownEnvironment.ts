import { afterAll } from 'vitest';

// files that share a process leave its environment to the next as they found it
const found = { ...process.env };
afterAll(() => {
  for (const name of Object.keys(process.env)) if (!(name in found)) delete process.env[name];
  Object.assign(process.env, found);
});
