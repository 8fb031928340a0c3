import { CAN_BE, type KernelTree, within } from './kernelFile';
import type { Channel, Found } from './types';

const CPUS = 'sys/devices/system/cpu';

const cpusOf = (tree: KernelTree) => tree.list(CPUS).filter((c) => /^cpu\d+$/.test(c));

/** Clock, thermal throttling and load of the processor. */
export function processorChannels(tree: KernelTree): Found {
  const cpus = cpusOf(tree);
  return { channels: [...clock(tree, cpus), ...throttling(tree, cpus), ...load(tree)], left_out: [] };
}

/** Number of processor cores, by their siblings; null where the kernel does not tell. */
export function countCores(tree: KernelTree): number | null {
  const siblings = cpusOf(tree).flatMap((c) => tree.text(`${CPUS}/${c}/topology/thread_siblings_list`) ?? []);
  return siblings.length === 0 ? null : new Set(siblings).size;
}

/** Mean clock of the processors that are on (cpufreq). */
function clock(tree: KernelTree, cpus: string[]): Channel[] {
  const files = cpus.map((c) => `${CPUS}/${c}/cpufreq/scaling_cur_freq`).filter((f) => tree.number(f) !== null);
  if (files.length === 0) return [];
  const read = () => {
    const known = files.flatMap((f) => within((tree.number(f) ?? -1) / 1000, CAN_BE.clock_mhz) ?? []);
    return known.length === 0 ? null : known.reduce((a, b) => a + b, 0) / known.length;
  };
  return [{ name: 'Clock', role: 'clock', unit: 'MHz', from: `mean of ${files.length} × scaling_cur_freq`, read }];
}

/** 1 where the processor throttled for its temperature since the last reading, by its counters. */
function throttling(tree: KernelTree, cpus: string[]): Channel[] {
  const files = cpus.flatMap((c) =>
    ['core_throttle_count', 'package_throttle_count']
      .map((f) => `${CPUS}/${c}/thermal_throttle/${f}`)
      .filter((f) => tree.number(f) !== null),
  );
  if (files.length === 0) return [];
  let before: Map<string, number> | null = null;
  const read = () => {
    const now = new Map(
      files.flatMap((f) => {
        const n = tree.number(f);
        return n === null ? [] : [[f, n] as const];
      }),
    );
    const known = before;
    before = now;
    return known === null ? 0 : Number([...now].some(([f, n]) => n > (known.get(f) ?? n)));
  };
  return [{ name: 'Throttling', role: 'throttle', unit: null, from: `${files.length} throttle counters`, read }];
}

/** Share of the processors' time that was used since the last reading (proc/stat). */
function load(tree: KernelTree): Channel[] {
  const times = () => {
    const line = tree
      .text('proc/stat')
      ?.split('\n')
      .find((l) => l.startsWith('cpu '));
    const fields = line?.trim().split(/\s+/).slice(1, 9).map(Number);
    if (!fields || fields.length < 5 || fields.some((f) => !Number.isFinite(f))) return null;
    // the fourth is idle, the fifth waits for disks
    return { all: fields.reduce((a, b) => a + b, 0), idle: fields[3] + fields[4] };
  };
  if (!times()) return [];
  let before = times();
  const read = () => {
    const now = times();
    const known = before;
    before = now;
    if (!now || !known || now.all <= known.all) return null;
    return within(100 * (1 - (now.idle - known.idle) / (now.all - known.all)), [0, 100]);
  };
  return [{ name: 'Load', role: 'load', unit: 'percent', from: 'proc/stat', read }];
}
