import type { InstrumentFault } from '../scpi';
import type { SimulatedBench } from '../simulatedBench';
import { BrokerWithProbe } from './broker';
import { ModbusServer } from './modbusServer';
import { PageOfReadings } from './page';
import { SerialProbe } from './serialProbe';

export const WAYS = ['modbus', 'broker', 'page', 'serial'] as const;
export type Way = (typeof WAYS)[number];

/** The bench's figures by the other ways that instruments of a small lab have. */
export interface RunningWays {
  /** addresses as they are written on a sheet, and what its channels are there */
  sheets: Record<Way, { address: string; channels: string }>;
  faults: Record<Way, Set<InstrumentFault>>;
  cut: (way: Way) => void;
  stop: () => Promise<void>;
}

/**
 * Starts a Modbus server, a broker with a probe, a page of readings and a serial line, all on this machine.
 * @param port first of three ports in a row; free ones where it is null
 * @param period_ms between what they send by themselves
 */
export async function startWays(bench: SimulatedBench, port: number | null, period_ms: number): Promise<RunningWays> {
  const dice = () => bench.read().sensors;
  const modbus = new ModbusServer(() => {
    const { sensors, ambient, power, fan } = bench.read();
    return [...sensors, ambient, power, fan];
  });
  const broker = new BrokerWithProbe('bench', () => ({ room: bench.read().ambient, die: dice()[0] }), period_ms);
  const page = new PageOfReadings(() => {
    const { power, fan, noise_db } = bench.read();
    return { power, fan, noise: noise_db };
  });
  const serial = new SerialProbe(dice, period_ms);
  const served = { modbus, broker, page };
  const ports = await Promise.all(Object.values(served).map((s, i) => s.listen(port === null ? 0 : port + i)));
  const device = await serial.plugIn();
  const all = { ...served, serial };
  return {
    sheets: {
      modbus: { address: `modbus://127.0.0.1:${ports[0]}/1`, channels: 'Input power: power W = input 10 float32' },
      broker: { address: `mqtt://127.0.0.1:${ports[1]}`, channels: 'Room probe: ambient °C = bench/all -> probe.room' },
      page: { address: `http://127.0.0.1:${ports[2]}/meter`, channels: 'Fan speed: fan rpm = meter.0.fan' },
      serial: { address: `serial:${device}`, channels: 'Part 1: sensor °C = T1={}; Part 2: sensor °C = T2={}' },
    },
    faults: Object.fromEntries(WAYS.map((way) => [way, all[way].faults])) as RunningWays['faults'],
    cut: (way) => all[way].cut(),
    async stop() {
      await Promise.all(WAYS.map((way) => all[way].stop()));
    },
  };
}
