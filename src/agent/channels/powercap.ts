import { CAN_BE, type KernelTree, within } from './kernelFile';
import type { Found } from './types';

const FOLDER = 'sys/class/powercap';
/** A counter that was not read for so long may have wrapped more than once at this power, W. */
const MOST_W = 1000;

/**
 * Power of the processor from the energy counters of the powercap interface (Documentation/power/powercap). The packages together are the
 * power; their parts are kept aside.
 */
export function powercapChannels(tree: KernelTree): Found {
  const found: Found = { channels: [], left_out: [] };
  const zones = tree.list(FOLDER).flatMap((zone) => {
    const file = `${FOLDER}/${zone}/energy_uj`;
    const name = tree.text(`${FOLDER}/${zone}/name`);
    if (name === null || !tree.list(`${FOLDER}/${zone}`).includes('energy_uj')) return [];
    if (tree.isClosed(file)) {
      found.left_out.push({ what: `power of ${name}`, why: 'only root may read its energy counter', remedy: RULE });
      return [];
    }
    return { name, file, range: tree.number(`${FOLDER}/${zone}/max_energy_range_uj`) ?? 0 };
  });
  // the same counter may be listed by two drivers
  const once = zones.filter((z, i) => zones.findIndex((o) => o.name === z.name && o.range === z.range) === i);
  const packages = once.filter((z) => /^package/i.test(z.name));
  const main = packages.length > 0 ? packages : once.filter((z) => /^(psys|platform)/i.test(z.name)).slice(0, 1);
  if (main.length > 0) {
    const meters = main.map((z) => new EnergyMeter(() => tree.number(z.file), z.range));
    found.channels.push({
      ...{ name: 'Package power', role: 'power', unit: 'W', from: main.map((z) => z.file).join(' + ') },
      read: (now_ms) => sum(meters.map((m) => m.power(now_ms))),
    });
  }
  for (const zone of once.filter((z) => !main.includes(z))) {
    const meter = new EnergyMeter(() => tree.number(zone.file), zone.range);
    const twins = found.channels.filter((c) => c.name.startsWith(`Power ${zone.name}`)).length;
    found.channels.push({
      ...{ name: `Power ${zone.name}${twins > 0 ? ` ${twins + 1}` : ''}`.slice(0, 36), role: 'ignore', unit: 'W', from: zone.file },
      read: (now_ms) => meter.power(now_ms),
    });
  }
  return found;
}

/** What lets a group read the counters, without giving it anything else. */
const RULE = [
  'Let a group read it, once, as root:',
  '  groupadd -f powermeter && usermod -aG powermeter YOUR_USER',
  `  echo 'SUBSYSTEM=="powercap", ACTION=="add|change", RUN+="/bin/sh -c \\'chgrp powermeter /sys%p/energy_uj; chmod g+r /sys%p/energy_uj\\'"' > /etc/udev/rules.d/70-powermeter.rules`,
  '  udevadm control --reload && udevadm trigger --subsystem-match=powercap',
  'then log in anew. The counter lets programs guess at what others compute: do this on a test machine only.',
].join('\n');

/** Mean power between two readings of an energy counter that begins anew at its end. */
export class EnergyMeter {
  private before: { energy_uj: number; at_ms: number } | null = null;

  /**
   * @param energy reads the counter, µJ
   * @param range_uj highest count before it begins anew at 0; 0 where it is not known
   */
  constructor(
    private readonly energy: () => number | null,
    private readonly range_uj: number,
  ) {}

  /** Mean power since the last reading, W; null at the first, and where the counter says nothing that can be. */
  power(now_ms: number): number | null {
    const energy_uj = this.energy();
    const { before } = this;
    this.before = energy_uj === null ? null : { energy_uj, at_ms: now_ms };
    if (energy_uj === null || before === null || now_ms <= before.at_ms) return null;
    const passed_s = (now_ms - before.at_ms) / 1000;
    const went = energy_uj - before.energy_uj;
    // after longer than a turn of the counter takes at the highest power, nobody knows how often it turned
    if (this.range_uj > 0 && passed_s > this.range_uj / 1e6 / MOST_W) return null;
    const energy = went >= 0 ? went : this.range_uj > 0 ? went + this.range_uj : Number.NaN;
    return within(energy / 1e6 / passed_s, CAN_BE.power_w);
  }
}

const sum = (values: (number | null)[]): number | null =>
  values.some((v) => v === null) ? null : values.reduce<number>((a, b) => a + (b ?? 0), 0);
