import { mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, expect, it, vi } from 'vitest';
import type { LiveSource } from '#features/shelf/model/channelMap';
import { PATIENCE_MS } from '../../../../tests/patience';
import { FileCollector } from './fileCollector';

const folder = mkdtempSync(path.join(tmpdir(), 'warm-gauge-logs-'));
const outside = mkdtempSync(path.join(tmpdir(), 'warm-gauge-elsewhere-'));
vi.stubEnv('WARM_GAUGE_LOGS', folder);
afterAll(() => {
  vi.unstubAllEnvs();
  for (const each of [folder, outside]) rmSync(each, { recursive: true });
});

const LOG = 'Time,Die (°C)\n2026-06-01T08:00:00Z,41\n2026-06-01T08:00:01Z,42\n2026-06-01T08:00:02Z,43\n';

/** What is heard of a file of the folder. */
async function heard(file: string) {
  const listener = { onReading: vi.fn(), onState: vi.fn(), onRefusal: vi.fn() };
  const source = {
    name: 'Log',
    address: { kind: 'file', file },
    clock_offset_s: 0,
    channels: [{ name: 'Die', role: 'sensor', unit: 'degC' }],
  };
  const collector = new FileCollector(
    source as unknown as LiveSource & { address: { kind: 'file' } },
    { now: () => 0, scale: 1 },
    0,
    listener,
  );
  collector.start();
  await vi.waitFor(() => expect(listener.onState).toHaveBeenCalled(), PATIENCE_MS);
  collector.stop();
  return listener;
}

it('a log that grows in the folder is read', async () => {
  writeFileSync(path.join(folder, 'plain.csv'), LOG);
  const { onReading, onState } = await heard('plain.csv');
  expect(onReading).toHaveBeenCalled();
  expect(onState).toHaveBeenLastCalledWith({ connected: true, problem: null });
});

it('a link that leads out of the folder is refused, whatever it names, and one that stays in it is read', async () => {
  writeFileSync(path.join(outside, 'secret.csv'), LOG);
  symlinkSync(path.join(outside, 'secret.csv'), path.join(folder, 'link.csv'));
  const { onReading, onRefusal } = await heard('link.csv');
  expect(onReading).not.toHaveBeenCalled();
  expect(onRefusal).toHaveBeenCalledWith('unreadable', expect.stringContaining('leads out of the folder of the logs'));
  symlinkSync(path.join(folder, 'plain.csv'), path.join(folder, 'same.csv'));
  expect((await heard('same.csv')).onReading).toHaveBeenCalled();
  const climbing = await heard('../secret.csv');
  expect(climbing.onReading).not.toHaveBeenCalled();
});
