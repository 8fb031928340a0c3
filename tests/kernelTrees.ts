import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

/** Files of a kernel by their path. */
export type KernelFiles = Record<string, string | number>;

/** Writes files as a kernel would show them; gives the folder that stands for its root. */
export function kernelTree(files: KernelFiles): string {
  const root = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-kernel-'));
  for (const [file, text] of Object.entries(files)) setFile(root, file, text);
  return root;
}

export function setFile(root: string, file: string, text: string | number): void {
  const at = path.join(root, file);
  mkdirSync(path.dirname(at), { recursive: true });
  writeFileSync(at, `${text}\n`);
}

const hwmon = (n: number, files: KernelFiles): KernelFiles =>
  Object.fromEntries(Object.entries(files).map(([f, v]) => [`sys/class/hwmon/hwmon${n}/${f}`, v]));
const cpus = (n: number, clock_khz: number, siblings: (i: number) => string): KernelFiles =>
  Object.fromEntries(
    Array.from({ length: n }, (_, i) => [
      [`sys/devices/system/cpu/cpu${i}/cpufreq/scaling_cur_freq`, clock_khz + 1000 * i] as const,
      [`sys/devices/system/cpu/cpu${i}/topology/thread_siblings_list`, siblings(i)] as const,
    ]).flat(),
  );
const STAT = 'cpu  1000 0 500 8000 100 0 0 0 0 0\ncpu0 500 0 250 4000 50 0 0 0 0 0';

/** Processor with a package, four cores, energy counters and throttle counters, as desktops of one family show it. */
export const PACKAGE_AND_CORES: KernelFiles = {
  ...hwmon(0, { name: 'coresense', temp1_input: 61000, temp1_label: 'Package id 0' }),
  ...hwmon(
    0,
    Object.fromEntries(
      [0, 1, 2, 3].flatMap((i) => [
        [`temp${i + 2}_input`, 57000 + 1000 * i],
        [`temp${i + 2}_label`, `Core ${i}`],
      ]),
    ),
  ),
  ...hwmon(1, { name: 'boardsense', fan1_input: 0, fan1_label: 'Chassis Fan', fan2_input: 1312, fan2_label: 'CPU Fan' }),
  ...hwmon(1, { in0_input: 1104, in0_label: 'Vcore', temp1_input: 34000, temp1_label: 'Board' }),
  ...cpus(8, 4_200_000, (i) => `${i % 4},${(i % 4) + 4}`),
  'sys/class/powercap/zone:0/name': 'package-0',
  'sys/class/powercap/zone:0/energy_uj': 262_143_000_000,
  'sys/class/powercap/zone:0/max_energy_range_uj': 262_143_328_850,
  'sys/class/powercap/zone:0:0/name': 'core',
  'sys/class/powercap/zone:0:0/energy_uj': 5_000_000,
  'sys/class/powercap/zone:0:0/max_energy_range_uj': 262_143_328_850,
  'sys/devices/system/cpu/cpu0/thermal_throttle/package_throttle_count': 3,
  'sys/devices/system/cpu/cpu0/thermal_throttle/core_throttle_count': 7,
  'sys/class/thermal/thermal_zone0/type': 'coresense',
  'sys/class/thermal/thermal_zone0/temp': 61000,
  'proc/stat': STAT,
};

/** Processor of another family: a control temperature with an offset beside the die's own, and its dies. */
export const CONTROL_AND_DIE: KernelFiles = {
  ...hwmon(0, { name: 'zensor', temp1_input: 78500, temp1_label: 'Tctl', temp2_input: 68500, temp2_label: 'Tdie' }),
  ...hwmon(0, { temp3_input: 66250, temp3_label: 'Tccd1' }),
  ...hwmon(1, { name: 'boardsense', fan1_input: 1500, temp1_input: 24500, temp1_label: 'Inlet air' }),
  ...cpus(4, 3_600_000, (i) => String(i)),
  'proc/stat': STAT,
};

/** A graphics card with its own power and fan beside a processor. */
export const GRAPHICS: KernelFiles = {
  ...hwmon(0, { name: 'coresense', temp1_input: 50000, temp1_label: 'Package id 0' }),
  ...hwmon(1, { name: 'cardsense', temp1_input: 71000, temp1_label: 'edge', temp2_input: 83000, temp2_label: 'junction' }),
  ...hwmon(1, { fan1_input: 2100, power1_average: 142_000_000, in0_input: 950, in0_label: 'vddgfx' }),
  'sys/class/hwmon/hwmon1/device/drm/card0/dev': '226:0',
};

/** Drives with their temperatures, one of them twice by the same name. */
export const DRIVES: KernelFiles = {
  ...hwmon(0, { name: 'coresense', temp1_input: 44000, temp1_label: 'Core 0', temp2_input: 46000, temp2_label: 'Core 1' }),
  ...hwmon(1, { name: 'drivesense', temp1_input: 38850, temp1_label: 'Composite', temp2_input: 45850, temp2_label: 'Sensor 1' }),
  ...hwmon(2, { name: 'drivesense', temp1_input: 35850, temp1_label: 'Composite' }),
};

/** A small board: thermal zones, no hwmon, a power that its driver gives nowhere. */
export const SMALL_BOARD: KernelFiles = {
  'sys/class/thermal/thermal_zone0/type': 'cpu-thermal',
  'sys/class/thermal/thermal_zone0/temp': 52616,
  'sys/class/thermal/thermal_zone1/type': 'gpu-thermal',
  'sys/class/thermal/thermal_zone1/temp': 50132,
  'sys/class/thermal/cooling_device0/type': 'fan',
  ...cpus(4, 1_800_000, (i) => String(i)),
};

/** A virtual machine: a clock of its processors, and nothing else. */
export const NOTHING: KernelFiles = { 'sys/class/hwmon/.keep': '', 'sys/devices/system/cpu/cpu0/online': 1 };

/** Inputs that nobody connected, and drivers that say what cannot be. */
export const NONSENSE: KernelFiles = {
  ...hwmon(0, { name: 'coresense', temp1_input: 51000, temp1_label: 'Package id 0' }),
  ...hwmon(1, { name: 'boardsense', temp1_input: -128000, temp1_label: 'AUXTIN', temp2_input: 255000, temp2_label: 'PCH: hot; = yes' }),
  ...hwmon(1, { temp3_input: 'n/a', temp3_label: 'Text', fan1_input: 65535, fan1_label: 'Pump', fan2_input: 900, fan2_label: 'Case' }),
  ...hwmon(1, { power1_input: 4_294_967_295_000_000, power1_label: 'PIN', in0_input: 12_096, in0_label: '+12V' }),
  'sys/class/powercap/zone:0/name': 'package-0',
  'sys/class/powercap/zone:0/energy_uj': 'none',
  'proc/stat': 'nonsense',
};
