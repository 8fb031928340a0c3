import { write } from '#core/text/words';
import {
  lidRemoved,
  perfectInterface,
  type Stack,
  type StackAnswer,
  type StackLayer,
  solveStack,
  withLayer,
} from '#core/thermal/stack/stack';

/** What a change to a stack would do. */
interface Tried {
  name: string;
  die_c: number;
  /** how much cooler the die would run, K; negative where warmer */
  gain_k: number;
}

/** A material that could take the place of the one under the cooler. */
interface OtherMaterial {
  name: string;
  k: number;
  thickness_mm: number;
}

/** A plate with paste on both its faces, in place of a pad. */
export interface PlateChange {
  k: number;
  thickness_mm: number;
  /** of the paste on each face, mm²·K/W */
  paste_mm2_k_per_w: number;
}

/** An interface this thick is a pad over a gap, which a plate in its place has to fill, mm. */
const PAD_MM = 0.3;
/** Bond line of the paste on each face, mm. */
const PASTE_MM = 0.045;

/** A copper plate that fills the gap of the pad under the cooler; half a millimetre thick where a bond line is there and no gap. */
export function plateFor(stack: Stack): PlateChange {
  const layer = stack.layers.find((l) => l.key === topInterface(stack));
  const gap = layer?.kind === 'interface' ? layer.thickness_mm : 0;
  return { k: 390, thickness_mm: gap >= PAD_MM ? Number((gap - 2 * PASTE_MM).toFixed(3)) : 0.5, paste_mm2_k_per_w: 40 };
}

/** The interface that the cooler lies on. */
const topInterface = (stack: Stack) => (stack.layers.some((l) => l.key === 'interface_2') ? 'interface_2' : 'interface_1');

const COLDER_K = 5;
const BIGGER = 0.75;

/** The usual changes, each tried alone on the stack as it is. */
export function triedChanges(stack: Stack, other: OtherMaterial | null, plate: PlateChange = plateFor(stack)): Tried[] {
  const now = solveStack(stack);
  const has = (key: string) => stack.layers.some((l) => l.key === key);
  const top = topInterface(stack);
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
    {
      name: `Plate of ${write(plate.thickness_mm, 2)} mm with paste on both faces, in place of the interface`,
      stack: withLayer(stack, top, (l) => asPlate(l, plate)),
    },
    {
      name: 'Cooler a quarter better',
      stack: withLayer(stack, 'sink', (l) => (l.kind === 'known' ? { ...l, k_per_w: l.k_per_w * BIGGER } : l)),
    },
    { name: `Room ${COLDER_K} K colder`, stack: { ...stack, room_c: stack.room_c - COLDER_K } },
    { name: 'Perfect interface under the cooler', stack: perfectInterface(stack, top) },
  ];
  return changes.map((c) => {
    const { die_c } = solveStack(c.stack);
    return { name: c.name, die_c, gain_k: now.die_c - die_c };
  });
}

const asMaterial = (layer: StackLayer, { k, thickness_mm }: OtherMaterial): StackLayer =>
  layer.kind === 'interface' ? { ...layer, k, thickness_mm } : layer;

function asPlate(layer: StackLayer, plate: PlateChange): StackLayer {
  if (layer.kind !== 'interface') return layer;
  const k_per_w = ((1000 * plate.thickness_mm) / plate.k + 2 * plate.paste_mm2_k_per_w) / layer.area_mm2;
  return { key: layer.key, name: layer.name, kind: 'known', k_per_w };
}

/** What a stack says in one sentence: whether the interface or the cooler is the limit, with the figure. */
export function stackSentence(stack: Stack, answer: StackAnswer): string {
  const perfect = solveStack(perfectInterface(stack, topInterface(stack)));
  const largest = [...answer.layers].sort((a, b) => b.k_per_w - a.k_per_w)[0];
  if (!largest) return '';
  const left = `Even a perfect interface under the cooler would leave ${write(perfect.rise_k, 1)} of ${write(answer.rise_k, 1)} K`;
  return `${left}. Largest part: ${largest.name.charAt(0).toLowerCase()}${largest.name.slice(1)}, ${write(largest.rise_k, 1)} K.`;
}
