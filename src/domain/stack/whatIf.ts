import { write } from '#core/compare/number';
import { type Layer, lidRemoved, perfectInterface, type Stack, type StackAnswer, solveStack, withLayer } from '#core/stack/stack';

/** What a change to a stack would do. */
export interface Tried {
  name: string;
  die_c: number;
  /** how much cooler the die would run, K; negative where warmer */
  gain_k: number;
}

/** A material that could take the place of the one under the cooler. */
export interface OtherMaterial {
  name: string;
  k: number;
  thickness_mm: number;
}

/** A plate with paste on both its faces, in place of a thick pad, mm² · K/W of the paste on each face. */
const PLATE = { k: 390, thickness_mm: 0.5, paste_mm2_k_per_w: 40 };
const COLDER_K = 5;
const BIGGER = 0.75;

/** The usual changes, each tried alone on the stack as it is. */
export function triedChanges(stack: Stack, other: OtherMaterial | null): Tried[] {
  const now = solveStack(stack);
  const has = (key: string) => stack.layers.some((l) => l.key === key);
  const top = has('interface_2') ? 'interface_2' : 'interface_1';
  const changes: { name: string; stack: Stack }[] = [
    ...(other ? [{ name: `${other.name} under the cooler`, stack: withLayer(stack, top, (l) => asMaterial(l, other)) }] : []),
    ...(has('die')
      ? [
          {
            name: 'Die ground to half its thickness',
            stack: withLayer(stack, 'die', (l) => (l.kind === 'block' ? { ...l, thickness_mm: l.thickness_mm / 2 } : l)),
          },
        ]
      : []),
    ...(has('lid') ? [{ name: 'Lid removed, cooler on the die', stack: lidRemoved(stack) }] : []),
    { name: 'Copper plate of 0.5 mm with paste on both faces, in place of the interface', stack: withLayer(stack, top, asPlate) },
    { name: 'Cooler a quarter better', stack: withLayer(stack, 'sink', (l) => (l.kind === 'known' ? { ...l, k_per_w: l.k_per_w * BIGGER } : l)) },
    { name: `Room ${COLDER_K} K colder`, stack: { ...stack, room_c: stack.room_c - COLDER_K } },
    { name: 'Perfect interface under the cooler', stack: perfectInterface(stack, top) },
  ];
  return changes.map((c) => {
    const { die_c } = solveStack(c.stack);
    return { name: c.name, die_c, gain_k: now.die_c - die_c };
  });
}

function asMaterial(layer: Layer, { k, thickness_mm }: OtherMaterial): Layer {
  return layer.kind === 'interface' ? { ...layer, k, thickness_mm } : layer;
}

function asPlate(layer: Layer): Layer {
  if (layer.kind !== 'interface') return layer;
  const k_per_w = ((1000 * PLATE.thickness_mm) / PLATE.k + 2 * PLATE.paste_mm2_k_per_w) / layer.area_mm2;
  return { key: layer.key, name: layer.name, kind: 'known', k_per_w };
}

/** What a stack says in one sentence: whether the interface or the cooler is the limit, with the figure. */
export function stackSentence(stack: Stack, answer: StackAnswer): string {
  const top = stack.layers.some((l) => l.key === 'interface_2') ? 'interface_2' : 'interface_1';
  const perfect = solveStack(perfectInterface(stack, top));
  const largest = [...answer.layers].sort((a, b) => b.k_per_w - a.k_per_w)[0];
  if (!largest) return '';
  const left = `Even a perfect interface under the cooler would leave ${write(perfect.rise_k, 1)} of ${write(answer.rise_k, 1)} K`;
  return `${left}. Largest part: ${largest.name.charAt(0).toLowerCase()}${largest.name.slice(1)}, ${write(largest.rise_k, 1)} K.`;
}
