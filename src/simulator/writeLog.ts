import type { SimulatedSample } from './simulateRun';

/**
 * A run as the CSV a bench logger writes: ISO times without a zone, units in the header.
 * @param start seconds since 1970
 */
export function writeLog(samples: SimulatedSample[], start: number): string {
  const sensors = samples[0].sensors.map((_, i) => `Die ${i + 1} (°C)`);
  const withExhaust = samples[0].exhaust !== null;
  const withSound = samples[0].sound !== null;
  const lines = [
    [
      'Time',
      ...sensors,
      'Ambient (°C)',
      ...(withExhaust ? ['Exhaust air (°C)'] : []),
      'Power (W)',
      'Clock (MHz)',
      'Fan (RPM)',
      ...(withSound ? ['Sound level (dB)'] : []),
      'Throttling',
    ].join(','),
  ];
  for (const s of samples) {
    const time = new Date(Math.round((start + s.t) * 1000)).toISOString().replace('T', ' ').replace('Z', '');
    lines.push(
      [
        time,
        ...s.sensors.map((v) => v.toFixed(1)),
        s.ambient.toFixed(2),
        ...(s.exhaust === null ? [] : [s.exhaust.toFixed(1)]),
        s.power.toFixed(1),
        s.clock,
        s.fan,
        ...(s.sound === null ? [] : [s.sound.toFixed(1)]),
        s.throttling ? 1 : 0,
      ].join(','),
    );
  }
  return `${lines.join('\n')}\n`;
}
