import { database } from '#app/database/pool';
import { insertSheet, setAddress } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy } from '#features/study/store/studies';
import { INSTRUMENTS, type InstrumentKey, type RunningBench } from '#simulator/startSimulator';
import { PATIENCE_MS } from './patience.ts';

export const NAMES: Record<InstrumentKey, string> = {
  thermometer: 'Scanner',
  power: 'Load',
  tachometer: 'Tachometer',
  sound: 'Sound meter',
};

const SHEETS: Record<InstrumentKey, Record<string, unknown>> = {
  thermometer: {
    channels: `${[1, 2, 3, 4].map((i) => `Die ${i}: sensor °C = MEAS:TEMP? (@101:104)`).join('; ')}; Room: ambient °C = MEAS:TEMP? (@201)`,
    identity: 'Scanner 20',
  },
  power: { channels: 'Power: power W = MEAS:POW?', switch_on: 'OUTP ON', switch_off: 'OUTP OFF' },
  tachometer: { channels: 'Fan: fan rpm = MEAS:FREQ?' },
  sound: { channels: 'Noise: noise dB = MEAS:SLEV?' },
};

/** A study with one mount on a rig whose instruments are those of a running bench; the card pushes its clock. */
export async function stockLive(
  bench: RunningBench,
  given: { speed: number; period_s?: number; rig?: Record<string, unknown>; push?: string } = { speed: 1 },
) {
  const db = database();
  const suffix = Math.random().toString(36).slice(2, 7);
  const ids: number[] = [];
  for (const key of Object.keys(INSTRUMENTS) as InstrumentKey[]) {
    const name = `${NAMES[key]} ${suffix}`;
    ids.push(
      (await insertSheet(db, 'instruments', name, {
        period_s: given.period_s ?? 1,
        calibrated_until: '2099-01-01',
        ...SHEETS[key],
      } as never)) as number,
    );
    await setAddress(db, name, `127.0.0.1:${bench.ports[key]}`);
  }
  const push = given.push ?? 'Clock: clock MHz; Throttling: throttle';
  if (push)
    ids.push(
      (await insertSheet(db, 'instruments', `Card ${suffix}`, {
        address: 'push',
        channels: push,
        calibrated_until: '2099-01-01',
      } as never)) as number,
    );
  const rig = (await insertSheet(db, 'rigs', `Rig ${suffix}`, {
    ...{ throttle_limit_c: 92, power_w: 140, fan_rpm: 1200, instruments: ids, time_scale: given.speed, ...given.rig },
  } as never)) as number;
  const study = (await insertStudy(db, { title: `Live ${suffix}`, question: '', margin_k: 1, reduction: {} })) as number;
  const specimen = (await insertSpecimen(db, study, 'Loam White', 'paste')) as number;
  const mount = await insertMount(db, specimen, rig, '');
  return { rig, study, mount: mount.id, name: (key: InstrumentKey) => `${NAMES[key]} ${suffix}`, card: `Card ${suffix}` };
}

/** Waits until what is asked is so. */
export async function until<T>(ask: () => Promise<T | null | undefined | false>, what: string, most_ms = PATIENCE_MS): Promise<T> {
  const end = Date.now() + most_ms;
  for (;;) {
    const got = await ask();
    if (got) return got;
    if (Date.now() > end) throw new Error(`${what} did not come within ${most_ms / 1000} s`);
    await new Promise((done) => setTimeout(done, 50));
  }
}
