import { rmSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { UNITS } from '#core/units/units';
import {
  CONTROL_AND_DIE,
  DRIVES,
  GRAPHICS,
  type KernelFiles,
  kernelTree,
  NONSENSE,
  NOTHING,
  PACKAGE_AND_CORES,
  SMALL_BOARD,
  setFile,
} from '../../../tests/kernelTrees.ts';
import { discover } from './discover';
import { KernelTree } from './kernelFile';
import { EnergyMeter } from './powercap';
import { countCores } from './processor';

const onTree = (files: KernelFiles) => {
  const root = kernelTree(files);
  return { root, ...discover(new KernelTree(root)) };
};
/** Channels as "name role value unit", energy meters read twice a second apart. */
const seen = (files: KernelFiles, between: (root: string) => void = () => {}) => {
  const { root, channels, left_out } = onTree(files);
  for (const c of channels) c.read(0);
  between(root);
  const lines = channels.map((c) => `${c.name} | ${c.role} | ${c.read(1000) ?? 'none'}${c.unit ? ` ${UNITS[c.unit].symbol}` : ''}`);
  return { lines, left_out: left_out.map((l) => `${l.what}: ${l.why}`) };
};

describe('what a machine tells of itself', () => {
  it('is a package before its cores, the fan of the processor, its power through the end of the counter, and its throttling', () => {
    const { lines, left_out } = seen(PACKAGE_AND_CORES, (root) => {
      // 95 J on, past the end of the counter
      setFile(root, 'sys/class/powercap/zone:0/energy_uj', 262_143_000_000 + 95_000_000 - 262_143_328_850);
      setFile(root, 'sys/class/powercap/zone:0:0/energy_uj', 5_000_000 + 71_500_000);
      setFile(root, 'sys/devices/system/cpu/cpu0/thermal_throttle/package_throttle_count', 4);
      setFile(root, 'proc/stat', 'cpu  1600 0 500 8300 200 0 0 0 0 0');
    });
    expect(lines).toEqual(
      [
        'boardsense Board | part | 34 °C',
        'boardsense CPU Fan | fan | 1312 rpm',
        'boardsense Chassis Fan | ignore | 0 rpm',
        'boardsense Vcore | ignore | 1.104 V',
        'Clock | clock | 4203.5 MHz',
        'coresense Core 0 | part | 57 °C',
        'coresense Core 1 | part | 58 °C',
        'coresense Core 2 | part | 59 °C',
        'coresense Core 3 | part | 60 °C',
        'coresense Package id 0 | sensor | 61 °C',
        'Load | load | 60 %',
        'Package power | power | 95 W',
        'Power core | ignore | 71.5 W',
        'Throttling | throttle | 1',
      ].sort((a, b) => lines.indexOf(a) - lines.indexOf(b)),
    );
    expect(lines).toHaveLength(14);
    expect(left_out).toEqual([]);
    expect(countCores(new KernelTree(kernelTree(PACKAGE_AND_CORES)))).toBe(4);
  });

  it('is the die before a control temperature with an offset, and air that is called so', () => {
    const { lines } = seen(CONTROL_AND_DIE);
    expect(lines).toEqual(
      expect.arrayContaining([
        'zensor Tdie | sensor | 68.5 °C',
        'zensor Tctl | part | 78.5 °C',
        'boardsense Inlet air | ambient | 24.5 °C',
      ]),
    );
    expect(lines.filter((l) => l.includes('| sensor |'))).toHaveLength(1);
    expect(countCores(new KernelTree(kernelTree(CONTROL_AND_DIE)))).toBe(4);
  });

  it('keeps a graphics card apart from the part; its power counts where nothing else tells one', () => {
    const { lines } = seen(GRAPHICS);
    expect(lines).toEqual(
      expect.arrayContaining([
        ...['coresense Package id 0 | sensor | 50 °C', 'cardsense edge | part | 71 °C', 'cardsense junction | part | 83 °C'],
        'cardsense power 1 | power | 142 W',
      ]),
    );
    // with a counter of the processor it does not
    const both = seen({ ...GRAPHICS, 'sys/class/powercap/z/name': 'package-0', 'sys/class/powercap/z/energy_uj': 1 });
    expect(both.lines).toContain('cardsense power 1 | ignore | 142 W');
  });

  it('takes all cores where there is no package, and tells two drives apart', () => {
    const { lines } = seen(DRIVES);
    expect(lines).toEqual([
      'coresense Core 0 | sensor | 44 °C',
      'coresense Core 1 | sensor | 46 °C',
      'drivesense Composite | part | 38.85 °C',
      'drivesense Sensor 1 | part | 45.85 °C',
      'drivesense Composite 2 | part | 35.85 °C',
    ]);
  });

  it('is read from thermal zones on a small board', () => {
    expect(seen(SMALL_BOARD).lines).toEqual([
      'cpu-thermal | sensor | 52.616 °C',
      'gpu-thermal | part | 50.132 °C',
      'Clock | clock | 1801.5 MHz',
    ]);
  });

  it('is nothing on a virtual machine', () => {
    expect(seen(NOTHING)).toEqual({ lines: [], left_out: [] });
  });

  it('leaves out what cannot be, and says what it read', () => {
    const { lines, left_out } = seen(NONSENSE);
    expect(lines).toEqual(
      [
        'coresense Package id 0 | sensor | 51 °C',
        'boardsense Pump | ignore | none rpm',
        'boardsense Case | fan | 900 rpm',
        'boardsense +12V | ignore | 12.096 V',
        'Package power | power | none W',
      ].sort((a, b) => lines.indexOf(a) - lines.indexOf(b)),
    );
    expect(lines).toHaveLength(5);
    expect(left_out).toEqual(
      [
        'boardsense PIN: it says 4294967295000000, which no power can be',
        'boardsense AUXTIN: it says -128000, which no temperature can be',
        'boardsense PCH hot yes: it says 255000, which no temperature can be',
        'boardsense Text: it says n/a, which no temperature can be',
      ].sort((a, b) => left_out.indexOf(a) - left_out.indexOf(b)),
    );
    expect(left_out).toHaveLength(4);
  });

  it('goes on where a file vanishes, and reads it again when it is back', () => {
    const { root, channels } = onTree(PACKAGE_AND_CORES);
    const sensor = channels.find((c) => c.role === 'sensor');
    rmSync(path.join(root, 'sys/class/hwmon/hwmon0/temp1_input'));
    expect(sensor?.read(1)).toBeNull();
    setFile(root, 'sys/class/hwmon/hwmon0/temp1_input', 63500);
    expect(sensor?.read(2)).toBe(63.5);
  });

  it('has names that the map of a sheet takes, up to 60 of them', () => {
    const many = Object.fromEntries(Array.from({ length: 90 }, (_, i) => [`sys/class/hwmon/hwmon0/in${i}_input`, 1000 + i]));
    const { channels, left_out } = onTree({ ...NONSENSE, ...many });
    expect(channels.length).toBeLessThanOrEqual(60);
    expect(new Set(channels.map((c) => c.name)).size).toBe(channels.length);
    expect(channels.every((c) => /^[^:;=]{1,40}$/.test(c.name))).toBe(true);
    expect(channels.some((c) => c.role === 'sensor')).toBe(true);
    expect(left_out.some((l) => l.why.includes('60 channels'))).toBe(true);
  });
});

describe('an energy counter', () => {
  const meter = (range: number) => {
    let count: number | null = 0;
    const m = new EnergyMeter(() => count, range);
    return (energy: number | null, at_ms: number) => {
      count = energy;
      return m.power(at_ms);
    };
  };

  it('gives the mean power between two readings, through its end, and nothing at the first', () => {
    const read = meter(1_000_000_000);
    expect(read(999_000_000, 0)).toBeNull();
    expect(read(999_500_000, 500)).toBeCloseTo(1, 12);
    expect(read(40_500_000, 1000)).toBeCloseTo(82, 12);
  });

  it('does not guess where it was not read for longer than a turn may take, where it went back without an end, or where it stops', () => {
    const long = meter(1_000_000_000);
    long(5_000_000, 0);
    // a turn takes a second at 1 kW
    expect(long(4_000_000, 1001)).toBeNull();
    expect(long(5_000_000, 1101)).toBeCloseTo(10, 9);
    const endless = meter(0);
    endless(5_000_000, 0);
    expect(endless(1_000_000, 100)).toBeNull();
    expect(endless(2_000_000, 200)).toBeCloseTo(10, 9);
    expect(endless(null, 300)).toBeNull();
    expect(endless(3_000_000, 400)).toBeNull();
  });
});
