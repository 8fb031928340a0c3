import { UNITS } from '#core/units/units';
import type { Channel } from './channels/types';
import type { AgentOptions } from './options';
import { reasonOf } from './readings/send';
import { sleep } from './sleep';
import { within } from './within';

/** A run that the application gives to this machine. */
export interface GivenRun {
  id: number;
  /** name under which its readings are sent */
  source: string;
  /** power that the load is to hold, W; null where the command line says */
  hold_w: number | null;
  /** limit of the part, °C; null where the command line says */
  limit_c: number | null;
}

const EVERY_MS = 1000;
const TIMEOUT_MS = 5000;

/** Tells the application what this machine reads, until it gives it a run. */
export async function awaitRun(
  key: string,
  options: AgentOptions & { server: string },
  channels: Channel[],
  now: () => Record<string, number | null>,
  say: (text: string) => void,
  signal: AbortSignal,
): Promise<GivenRun | null> {
  let told = '';
  const hello = () => ({
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      ...{ key, name: options.name, period_s: 1 / options.rate_hz },
      channels: channels.map(({ name, role, unit }) => ({ name, role, unit: unit && UNITS[unit].symbol })),
      load: options.load !== null && options.program === null,
      ...{ hold_w: options.hold_w, limit_c: options.limit_c, now: now() },
    }),
  });
  while (!signal.aborted) {
    try {
      const { ok, status, answer } = await within(TIMEOUT_MS, signal, async (open) => {
        const response = await fetch(`${options.server}/api/agents`, { ...hello(), signal: open });
        return { ok: response.ok, status: response.status, answer: (await response.json()) as { run?: GivenRun | null; error?: string } };
      });
      if (!ok) throw new Error(answer.error ?? `it answered ${status}`);
      if (answer.run) return answer.run;
      if (told !== 'waits')
        say(`${options.name} is known to Warm Gauge at ${options.server}. Begin a run there: ${options.server}/measure`);
      told = 'waits';
    } catch (error) {
      const reason = reasonOf(error);
      if (!signal.aborted && told !== reason) say(`Warm Gauge at ${options.server} does not take this machine: ${reason}`);
      told = reason;
    }
    await sleep(EVERY_MS, signal);
  }
  return null;
}
