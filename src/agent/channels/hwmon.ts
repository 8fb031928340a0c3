import type { Role } from '#core/signal/logs/types';
import type { Unit } from '#core/units/units';
import { CAN_BE, type KernelTree, within } from './kernelFile';
import type { Channel, Found } from './types';

const FOLDER = 'sys/class/hwmon';

/** Kinds of inputs by the start of their file's name: factor to their unit, and what they can be (Documentation/hwmon/sysfs-interface). */
const KINDS: Record<string, { what: string; unit: Unit | null; factor: number; can_be: readonly [number, number]; role: Role }> = {
  temp: { what: 'temperature', unit: 'degC', factor: 1e-3, can_be: CAN_BE.temperature_c, role: 'part' },
  fan: { what: 'fan', unit: 'rpm', factor: 1, can_be: CAN_BE.fan_rpm, role: 'fan' },
  power: { what: 'power', unit: 'W', factor: 1e-6, can_be: CAN_BE.power_w, role: 'power' },
  in: { what: 'voltage', unit: 'V', factor: 1e-3, can_be: CAN_BE.voltage_v, role: 'voltage' },
  curr: { what: 'current', unit: 'A', factor: 1e-3, can_be: CAN_BE.current_a, role: 'ignore' },
};

/** What the processor's own temperatures are called, whoever makes it. */
const PROCESSOR = /^(package|tctl|tdie|tccd|core \d|cpu|soc|die)/i;
const PROCESSOR_CHIP = /(^|[_-])(cpu|core|soc)|cpu|core_?temp|soc_thermal/i;
/** The reading that stands for the whole of it, the best first: one with an offset for the fans is the last resort. */
const WHOLE = [/^package/i, /^tdie/i, /^die/i, /^cpu( temperature)?$/i, /^soc/i, /^tctl/i];
const AMBIENT = /\b(ambient|room|inlet|intake|air in)\b/i;

interface Input {
  chip: string;
  kind: string;
  file: string;
  label: string;
  graphics: boolean;
}

/**
 * Temperatures, fans, powers, voltages and currents that drivers give under hwmon, with their labels. One temperature stands for the
 * processor (its package before its cores), the others for other parts; one fan counts, and one power of a graphics card is kept aside.
 */
export function hwmonChannels(tree: KernelTree): Found {
  const found: Found = { channels: [], left_out: [] };
  const inputs = listInputs(tree).filter((input) => {
    if (read(tree, input) !== null || input.kind === 'fan') return true;
    found.left_out.push({
      what: nameOf(input),
      why: `it says ${tree.text(input.file) ?? 'nothing'}, which no ${KINDS[input.kind].what} can be`,
      remedy: null,
    });
    return false;
  });
  const whole = wholeProcessor(inputs);
  const cores = inputs.filter(isOfProcessor);
  const fan = fanOf(tree, inputs);
  for (const input of inputs) {
    const { unit, role } = KINDS[input.kind];
    const isPart = whole ? input === whole : cores.includes(input);
    found.channels.push({
      ...{ name: nameOf(input), unit, from: input.file },
      role:
        input.kind === 'temp'
          ? isPart
            ? 'sensor'
            : AMBIENT.test(input.label)
              ? 'ambient'
              : 'part'
          : (input.kind === 'fan' && input !== fan) || input.kind === 'power' || input.kind === 'in'
            ? 'ignore'
            : role,
      read: () => read(tree, input),
    });
  }
  return { ...found, channels: withoutTwins(found.channels) };
}

function listInputs(tree: KernelTree): Input[] {
  return tree.list(FOLDER).flatMap((folder) => {
    const at = `${FOLDER}/${folder}`;
    const chip = tree.text(`${at}/name`) ?? folder;
    const graphics = tree.list(`${at}/device/drm`).length > 0;
    return tree.list(at).flatMap((file) => {
      const [, kind, number, what] = /^(temp|fan|power|in|curr)(\d+)_(input|average)$/.exec(file) ?? [];
      if (!kind || (what === 'average' && tree.list(at).includes(`power${number}_input`))) return [];
      const label = tree.text(`${at}/${kind}${number}_label`) || `${KINDS[kind].what} ${number}`;
      return { chip, kind, file: `${at}/${file}`, label, graphics };
    });
  });
}

const read = (tree: KernelTree, { file, kind }: Input): number | null => {
  const { factor, can_be } = KINDS[kind];
  const raw = tree.number(file);
  return within(raw === null ? null : raw * factor, can_be);
};

/** Letters and digits that a sheet takes; colons, semicolons and equal signs part its channels. */
const nameOf = ({ chip, label }: Input): string =>
  `${chip} ${label}`
    .replace(/[:;=\s]+/g, ' ')
    .slice(0, 36)
    .trim();

const isOfProcessor = (i: Input): boolean =>
  i.kind === 'temp' && !i.graphics && (PROCESSOR.test(i.label) || (PROCESSOR_CHIP.test(i.chip) && /^temperature/.test(i.label)));

/** The temperature that stands for the whole processor; null where only its cores are told. */
function wholeProcessor(inputs: Input[]): Input | null {
  const own = inputs.filter(isOfProcessor);
  for (const pattern of WHOLE) {
    const hit = own.find((i) => pattern.test(i.label));
    if (hit) return hit;
  }
  return null;
}

/** The fan that counts: one that is called the processor's, else the first that turns. */
function fanOf(tree: KernelTree, inputs: Input[]): Input | null {
  const fans = inputs.filter((i) => i.kind === 'fan' && !i.graphics);
  return fans.find((i) => /cpu|processor/i.test(i.label)) ?? fans.find((i) => (read(tree, i) ?? 0) > 0) ?? fans[0] ?? null;
}

/** Names that are given twice get a number. */
function withoutTwins(channels: Channel[]): Channel[] {
  const seen = new Map<string, number>();
  return channels.map((c) => {
    const n = (seen.get(c.name) ?? 0) + 1;
    seen.set(c.name, n);
    return n === 1 ? c : { ...c, name: `${c.name} ${n}` };
  });
}
