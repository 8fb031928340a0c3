import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { seededRandom } from '#core/stats/random';

/**
 * Writes a log of a run at 10 Hz: four dies, two rooms, power, clock, fan, load, noise, throttle; a tenth idle, eight tenths load, a tenth
 * cool-down.
 */
export async function writeBigLog(file: string, rows: number): Promise<void> {
  const out = createWriteStream(file);
  const random = seededRandom(rows);
  const noise = (k: number) => k * (random.uniform() - 0.5);
  const period = 0.1;
  const from = rows * period * 0.1;
  const to = rows * period * 0.9;
  const tau = (rows * period) / 40;
  let text =
    'Time,Die 1 (°C),Die 2 (°C),Die 3 (°C),Die 4 (°C),Ambient 1 (°C),Ambient 2 (°C),Power (W),Clock (MHz),Fan (RPM),Load (%),Sound level (dB),Throttling\n';
  for (let i = 0; i < rows; i++) {
    const t = i * period;
    const loaded = t >= from && t < to;
    const rise = loaded ? 42 * (1 - Math.exp(-(t - from) / tau)) : t >= to ? 42 * Math.exp(-(t - to) / tau) : 0;
    const room = 22 + 0.1 * Math.sin(t / 3000);
    const at = new Date(1780300800000 + Math.round(1000 * t)).toISOString().replace('T', ' ').replace('Z', '');
    const dies = [0, 1, -1, -2].map((k) => (room + rise + k + noise(0.3)).toFixed(1));
    text += `${at},${dies.join(',')},${(room + noise(0.05)).toFixed(2)},${(room + 0.1 + noise(0.05)).toFixed(2)},${((loaded ? 140 : 20) + noise(2)).toFixed(1)},${loaded ? 2100 : 800},${1200 + Math.round(noise(6))},${loaded ? 100 : 1},31.2,0\n`;
    if (text.length > 1_000_000) {
      if (!out.write(text)) await once(out, 'drain');
      text = '';
    }
  }
  out.end(text);
  await once(out, 'finish');
}
