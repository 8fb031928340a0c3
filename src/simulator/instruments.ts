import { channelList, type ScpiCommand, ScpiError, type ScpiInstrument } from './scpi';
import type { SimulatedBench } from './simulatedBench';

/** Figures as instruments send them. */
const figure = (value: number) => `${value < 0 ? '-' : '+'}${Math.abs(value).toExponential(8).toUpperCase()}`;

const AMBIENT_CHANNEL = 201;

/** Thermometer with the die sensors on channels 101 and up and the room on 201. */
export function thermometer(bench: SimulatedBench): ScpiInstrument {
  const read = (argument: string) => {
    const { sensors, ambient } = bench.read();
    return channelList(argument)
      .map((channel) => {
        const value = channel === AMBIENT_CHANNEL ? ambient : sensors[channel - 101];
        if (value === undefined) throw new ScpiError(-222, 'Data out of range');
        return figure(value);
      })
      .join(',');
  };
  return { identity: 'Thornmere,Scanner 20,TH-0031,1.2', unit: 'CEL', commands: [{ header: 'MEASure:TEMPerature?', run: read }] };
}

/** Power meter with the switch of the load. */
export function powerMeter(bench: SimulatedBench): ScpiInstrument {
  const output = (argument: string) => {
    const on = /^(1|ON)$/i.test(argument);
    if (!on && !/^(0|OFF)$/i.test(argument)) throw new ScpiError(-104, 'Data type error');
    bench.switchLoad(on);
    return null;
  };
  const commands: ScpiCommand[] = [
    { header: 'MEASure:POWer?', run: () => figure(bench.read().power) },
    { header: 'OUTPut', run: output },
    { header: 'OUTPut?', run: () => (bench.isLoaded ? '1' : '0') },
  ];
  return { identity: 'Thornmere,Load and meter,PM-0007,2.0', unit: 'W', commands };
}

export const tachometer = (bench: SimulatedBench): ScpiInstrument => ({
  identity: 'Thornmere,Tachometer,TA-0012,1.0',
  unit: 'RPM',
  commands: [{ header: 'MEASure:FREQuency?', run: () => figure(bench.read().fan) }],
});

export const soundMeter = (bench: SimulatedBench): ScpiInstrument => ({
  identity: 'Thornmere,Sound meter,SM-0004,1.1',
  unit: 'DB',
  commands: [{ header: 'MEASure:SLEVel?', run: () => figure(bench.read().noise_db) }],
});
