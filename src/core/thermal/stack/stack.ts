import { plateResistance } from './spreading';

interface SolidLayer {
  key: string;
  name: string;
  /** conductivity, W/(m·K) */
  k: number;
  thickness_mm: number;
  area_mm2: number;
  u_share?: number;
}

/** What a layer between die and room is made of. */
export type StackLayer =
  /** a block that heat goes straight through */
  | (SolidLayer & { kind: 'block' })
  /** a material between two faces: its bond line, conductivity and both contacts */
  | (SolidLayer & { kind: 'interface'; contact_mm2_k_per_w: number })
  /** a plate wider than what heats it */
  | (SolidLayer & { kind: 'plate'; source_mm2: number })
  /** a resistance that is known as such: a sink to the air, a measured interface */
  | { key: string; name: string; kind: 'known'; k_per_w: number; u?: number };

/** A stack from the die, first, to the room. */
export interface Stack {
  layers: StackLayer[];
  power_w: number;
  room_c: number;
}

interface LayerShare {
  key: string;
  name: string;
  /** of which spreading; 0 but for plates */
  k_per_w: number;
  spreading: number;
  /** K at the stack's power */
  rise_k: number;
  /** share of the whole */
  share: number;
  /** standard uncertainty, K/W */
  u: number;
}

export interface StackAnswer {
  layers: LayerShare[];
  k_per_w: number;
  rise_k: number;
  die_c: number;
  /** standard uncertainty of the whole, K/W and K */
  u: number;
  u_k: number;
}

/** How well a layer's figures are known where nothing is said, as a share. */
const DEFAULT_U_SHARE = { block: 0.05, interface: 0.2, plate: 0.1 } as const;

/**
 * Resistance and rise of every layer. They are in series, so that they sum to the whole; a plate's spreading depends on what lies beyond
 * it, which is why the room's side is worked out first. Uncertainties are taken as independent.
 * @example solveStack({ layers: [{ key: 'sink', name: 'Sink', kind: 'known', k_per_w: 0.2 }], power_w: 100, room_c: 20 })
 */
export function solveStack({ layers, power_w, room_c }: Stack): StackAnswer {
  let beyond = 0;
  const solved: Omit<LayerShare, 'share'>[] = [];
  for (const layer of [...layers].reverse()) {
    const { k_per_w, spreading } = layerResistance(layer, beyond);
    const u = layer.kind === 'known' ? (layer.u ?? 0) : k_per_w * (layer.u_share ?? DEFAULT_U_SHARE[layer.kind]);
    solved.unshift({ key: layer.key, name: layer.name, k_per_w, spreading, rise_k: k_per_w * power_w, u });
    beyond += k_per_w;
  }
  const u = Math.sqrt(solved.reduce((sum, l) => sum + l.u * l.u, 0));
  return {
    layers: solved.map((l) => ({ ...l, share: beyond > 0 ? l.k_per_w / beyond : 0 })),
    ...{ k_per_w: beyond, rise_k: beyond * power_w, die_c: room_c + beyond * power_w, u, u_k: u * power_w },
  };
}

function layerResistance(layer: StackLayer, beyond: number): { k_per_w: number; spreading: number } {
  switch (layer.kind) {
    case 'block':
      // mm / (W/(m·K) · mm²) = 1000 K/W
      return { k_per_w: (1000 * layer.thickness_mm) / (layer.k * layer.area_mm2), spreading: 0 };
    case 'interface':
      return { k_per_w: ((1000 * layer.thickness_mm) / layer.k + layer.contact_mm2_k_per_w) / layer.area_mm2, spreading: 0 };
    case 'plate': {
      const { conduction, spreading } = plateResistance(
        { k: layer.k, thickness: layer.thickness_mm / 1e3, source_area: layer.source_mm2 / 1e6, area: layer.area_mm2 / 1e6 },
        beyond,
      );
      return { k_per_w: conduction + spreading, spreading };
    }
    case 'known':
      return { k_per_w: layer.k_per_w, spreading: 0 };
  }
}

/** A measured whole, K/W, with its standard error. */
interface MeasuredTotal {
  k_per_w: number;
  se: number;
}

type Calibrated = { ok: true; stack: Stack; layer: string; was: number; is: number; u: number } | { ok: false; problem: string };

/**
 * Gives one layer what a measured whole leaves for it; the others keep their figures. Its uncertainty is that of the whole and of all
 * others.
 * @param measured several are averaged with weights by their errors
 */
export function calibrateStack(stack: Stack, key: string, measured: MeasuredTotal[]): Calibrated {
  const at = stack.layers.findIndex((l) => l.key === key);
  if (at < 0 || measured.length === 0) return { ok: false, problem: 'Choose a layer to fit, and a measured whole to fit it to.' };
  const exact = measured.filter((m) => m.se === 0);
  const weights = exact.length > 0 ? measured.map((m) => (m.se === 0 ? 1 : 0)) : measured.map((m) => 1 / m.se ** 2);
  const sum = weights.reduce((a, b) => a + b, 0);
  const whole = measured.reduce((total, m, i) => total + (weights[i] / sum) * m.k_per_w, 0);
  const se = exact.length > 0 ? 0 : Math.sqrt(1 / sum);
  const before = solveStack(stack);
  const was = before.layers[at].k_per_w;
  const fitted = (value: number): Stack => ({
    ...stack,
    layers: stack.layers.map((l, i): StackLayer => (i === at ? { key: l.key, name: l.name, kind: 'known', k_per_w: value } : l)),
  });
  // what lies before the fitted layer spreads by what lies beyond it, so that the rest is found by steps
  let value = was;
  for (let i = 0; i < 60; i++) {
    const rest = solveStack(fitted(value)).k_per_w - value;
    const next = whole - rest;
    if (next <= 0)
      return {
        ok: false,
        problem: `The measured whole of ${whole.toFixed(3)} K/W is less than the other layers alone, ${rest.toFixed(3)} K/W: one of them is set too high, or the whole was measured elsewhere.`,
      };
    if (Math.abs(next - value) < 1e-14) break;
    value = next;
  }
  const others = solveStack(fitted(value)).layers.reduce((total, l, i) => (i === at ? total : total + l.u ** 2), 0);
  const u = Math.sqrt(se ** 2 + others);
  const done = fitted(value);
  const layer = done.layers[at];
  if (layer.kind === 'known') layer.u = u;
  return { ok: true, stack: done, layer: layer.name, was, is: value, u };
}

/** Replaces a layer, or takes it out where nothing is given for it. */
export const withLayer = (stack: Stack, key: string, change: ((layer: StackLayer) => StackLayer) | null): Stack => ({
  ...stack,
  layers: change === null ? stack.layers.filter((l) => l.key !== key) : stack.layers.map((l) => (l.key === key ? change(l) : l)),
});

/** The limit that no material can beat: the interface takes nothing. */
export const perfectInterface = (stack: Stack, key: string): Stack =>
  withLayer(stack, key, (l) => ({ key: l.key, name: l.name, kind: 'known', k_per_w: 0 }));

/** Takes the lid off: the cooler's interface comes to lie on the die, and its base is heated by the die's area. */
export function lidRemoved(stack: Stack): Stack {
  const lid = stack.layers.find((l) => l.key === 'lid');
  if (lid?.kind !== 'plate') return stack;
  const without = withLayer(withLayer(stack, 'lid', null), 'interface_2', null);
  return {
    ...without,
    layers: without.layers.map((l) => (l.kind === 'plate' && l.source_mm2 === lid.area_mm2 ? { ...l, source_mm2: lid.source_mm2 } : l)),
  };
}

/** A die of a part with several, each with its own way to what they share. */
interface Die {
  name: string;
  power_w: number;
  /** from this die to the shared lid or base, K/W */
  own_k_per_w: number;
}

/** Temperature of each die over a shared path, and how far they spread. */
export function dieSpread(dies: Die[], shared_k_per_w: number, room_c: number): { dies: { name: string; c: number }[]; spread_k: number } {
  const common = room_c + shared_k_per_w * dies.reduce((sum, d) => sum + d.power_w, 0);
  const at = dies.map((d) => ({ name: d.name, c: common + d.own_k_per_w * d.power_w }));
  const all = at.map((d) => d.c);
  return { dies: at, spread_k: all.length === 0 ? 0 : Math.max(...all) - Math.min(...all) };
}
