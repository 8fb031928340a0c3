import type { Stack, StackLayer } from '#core/thermal/stack/stack';
import type { MaterialSheet, RigSheet } from '#features/shelf/model/sheets';
import { fieldsOfLayer, type LayerField, STARTING_STACK } from './stackStart';

/** Studies that a stack can be fitted to besides the one it was opened from, the newest first. */
export const MOST_STUDIES = 24;

/** What the shelf and the runs know of one specimen of a study. */
export interface StackSource {
  rig: RigSheet | null;
  material: { name: string; sheet: MaterialSheet } | null;
  power_w: number | null;
  room_c: number | null;
}

/** A stack with the figures that are known; all others are assumed until a person says them. */
export interface StudyStack {
  stack: Stack;
  /** layer and field of the figures that are known, such as "interface_2 area_mm2" */
  known: string[];
}

/** The stack of a study's part, from its rig's sheet, its material's and its runs. A bare die has no lid. */
export function studyStack({ rig, material, power_w, room_c }: StackSource): StudyStack {
  const known: string[] = [];
  const bare = rig?.contact === 'die' || rig?.contact === 'dies';
  const { contact_length_mm: l, contact_width_mm: w } = rig ?? {};
  const area = l != null && w != null ? l * w : null;
  const sheet = material?.sheet;
  const bond = sheet?.thickness_mm ?? (sheet?.bond_line_um == null ? null : sheet.bond_line_um / 1000);
  const put = (layer: StackLayer, field: LayerField['key'], value: number | null | undefined): StackLayer => {
    if (value == null || !(field in layer)) return layer;
    known.push(`${layer.key} ${field}`);
    return { ...layer, [field]: value } as StackLayer;
  };
  const layers = STARTING_STACK.layers
    .filter((layer) => !bare || (layer.key !== 'interface_1' && layer.key !== 'lid'))
    .map((layer) => {
      switch (layer.key) {
        case 'die':
          return bare ? put(layer, 'area_mm2', area) : layer;
        case 'lid':
          return put(layer, 'area_mm2', area);
        case 'interface_2':
          return put(
            put(put({ ...layer, name: material?.name ?? layer.name }, 'area_mm2', area), 'k', sheet?.conductivity_w_per_mk),
            'thickness_mm',
            bond,
          );
        case 'base':
          return put(layer, 'source_mm2', area);
        default:
          return layer;
      }
    });
  return { stack: { power_w: power_w ?? STARTING_STACK.power_w, room_c: room_c ?? STARTING_STACK.room_c, layers }, known };
}

/** One figure that is assumed, as it is asked for. */
export interface StackQuestion {
  layer: string;
  field: LayerField;
  words: string;
}

/** Why a figure is asked, by what it is. */
const ASKED: Record<LayerField['key'], string> = {
  k: 'How well does it conduct?',
  thickness_mm: 'How thick is it?',
  area_mm2: 'How large is it?',
  source_mm2: 'How large is what heats it?',
  contact_mm2_k_per_w: 'What do its two contacts add?',
  k_per_w: 'What is its resistance?',
};

/** The figures that are still assumed, in the order of the layers; the sink is fitted to what was measured, and not asked. */
export const openQuestions = (stack: Stack, known: string[]): StackQuestion[] =>
  stack.layers
    .filter((l) => l.kind !== 'known')
    .flatMap((l) =>
      fieldsOfLayer(l)
        .filter((f) => !known.includes(`${l.key} ${f.key}`))
        .map((field) => ({ layer: l.key, field, words: `${l.name}: ${ASKED[field.key]}` })),
    );
