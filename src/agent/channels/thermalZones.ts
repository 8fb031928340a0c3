import { CAN_BE, type KernelTree, within } from './kernelFile';
import type { Found } from './types';

const FOLDER = 'sys/class/thermal';
const PROCESSOR = /cpu|soc|pkg|package/i;

/**
 * Temperatures of the kernel's thermal zones, for machines that give none under hwmon: small boards, mostly.
 * @param known chips that give theirs under hwmon; a zone of the same name is the same sensor
 * @param hasPart the processor's temperature is known already
 */
export function thermalZoneChannels(tree: KernelTree, known: ReadonlySet<string>, hasPart: boolean): Found {
  const found: Found = { channels: [], left_out: [] };
  let part = hasPart;
  for (const zone of tree.list(FOLDER).filter((z) => z.startsWith('thermal_zone'))) {
    const file = `${FOLDER}/${zone}/temp`;
    const type = (tree.text(`${FOLDER}/${zone}/type`) ?? zone).replace(/[:;=\s]+/g, ' ');
    if (known.has(type.replaceAll('-', '_')) || known.has(type)) continue;
    const read = () => {
      const raw = tree.number(file);
      return within(raw === null ? null : raw / 1000, CAN_BE.temperature_c);
    };
    if (read() === null) {
      found.left_out.push({
        what: `zone ${type}`,
        why: `it says ${tree.text(file) ?? 'nothing'}, which no temperature can be`,
        remedy: null,
      });
      continue;
    }
    const twins = found.channels.filter((c) => c.name.startsWith(type)).length;
    const role = !part && PROCESSOR.test(type) ? 'sensor' : 'part';
    part ||= role === 'sensor';
    found.channels.push({ name: `${type}${twins > 0 ? ` ${twins + 1}` : ''}`.slice(0, 36), role, unit: 'degC', from: file, read });
  }
  return found;
}
