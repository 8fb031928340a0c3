import { hwmonChannels } from './hwmon';
import type { KernelTree } from './kernelFile';
import { powercapChannels } from './powercap';
import { processorChannels } from './processor';
import { thermalZoneChannels } from './thermalZones';
import type { Channel, Found } from './types';

/** A sheet takes so many channels; those that no verdict reads go first. */
const MOST = 60;

/** Everything that the kernel of this machine tells of temperatures, power, fans, clock and throttling. */
export function discover(tree: KernelTree): Found {
  const chips = new Set(tree.list('sys/class/hwmon').flatMap((f) => tree.text(`sys/class/hwmon/${f}/name`) ?? []));
  const hwmon = hwmonChannels(tree);
  const zones = thermalZoneChannels(
    tree,
    chips,
    hwmon.channels.some((c) => c.role === 'sensor'),
  );
  const power = powercapChannels(tree);
  const all = [hwmon, zones, power, processorChannels(tree)];
  const channels = all.flatMap((f) => f.channels);
  const left_out = all.flatMap((f) => f.left_out);
  if (!channels.some((c) => c.role === 'power')) promotePower(channels);
  const inOrder = [...channels.filter((c) => c.role !== 'ignore'), ...channels.filter((c) => c.role === 'ignore')];
  const kept = new Set(inOrder.slice(0, MOST));
  for (const c of inOrder.slice(MOST)) left_out.push({ what: c.name, why: `a sheet holds ${MOST} channels`, remedy: null });
  return { channels: channels.filter((c) => kept.has(c)), left_out };
}

/** Where no counter tells the processor's power, one that a driver gives does: such of a small board or a graphics card. */
function promotePower(channels: Channel[]): void {
  const powers = channels.filter((c) => c.unit === 'W');
  if (powers.length === 1) powers[0].role = 'power';
}
