import type { Stack, StackLayer } from '#core/thermal/stack/stack';

/** A stack to start from: a lidded part of ordinary size under a tower cooler. Every figure is there to be changed. */
export const STARTING_STACK: Stack = {
  power_w: 140,
  room_c: 23,
  layers: [
    { key: 'die', name: 'Die', kind: 'block', k: 120, thickness_mm: 0.77, area_mm2: 320 },
    { key: 'interface_1', name: 'Under the lid', kind: 'interface', k: 30, thickness_mm: 0.04, area_mm2: 320, contact_mm2_k_per_w: 1 },
    { key: 'lid', name: 'Lid', kind: 'plate', k: 390, thickness_mm: 3, source_mm2: 320, area_mm2: 1369 },
    {
      key: 'interface_2',
      name: 'Under the cooler',
      kind: 'interface',
      k: 1.3,
      thickness_mm: 0.045,
      area_mm2: 1369,
      contact_mm2_k_per_w: 10,
    },
    { key: 'base', name: 'Base of the cooler', kind: 'plate', k: 390, thickness_mm: 4, source_mm2: 1369, area_mm2: 2000 },
    { key: 'sink', name: 'Sink to the air', kind: 'known', k_per_w: 0.14, u: 0.01 },
  ],
};

/** A figure of a layer that can be set, with its range. */
export interface LayerField {
  key: 'k' | 'thickness_mm' | 'area_mm2' | 'source_mm2' | 'contact_mm2_k_per_w' | 'k_per_w';
  label: string;
  min: number;
  max: number;
}

const K: LayerField = { key: 'k', label: 'Conductivity / W/(m·K)', min: 0.05, max: 2500 };
const THICKNESS: LayerField = { key: 'thickness_mm', label: 'Thickness / mm', min: 0.001, max: 100 };
const AREA: LayerField = { key: 'area_mm2', label: 'Area / mm²', min: 1, max: 1e6 };
const SOURCE: LayerField = { key: 'source_mm2', label: 'Heated area / mm²', min: 1, max: 1e6 };
const CONTACT: LayerField = { key: 'contact_mm2_k_per_w', label: 'Both contacts / mm²·K/W', min: 0, max: 1e4 };
const KNOWN: LayerField = { key: 'k_per_w', label: 'Resistance / K/W', min: 0, max: 100 };

/** What can be set of a layer. */
export function fieldsOfLayer({ kind }: StackLayer): LayerField[] {
  switch (kind) {
    case 'block':
      return [K, THICKNESS, AREA];
    case 'interface':
      return [K, THICKNESS, AREA, CONTACT];
    case 'plate':
      return [K, THICKNESS, SOURCE, AREA];
    case 'known':
      return [KNOWN];
  }
}
