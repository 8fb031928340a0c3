import { seededRandom } from '#core/stats/random';
import { type ImprintScene, someScene } from '#simulator/photograph';

/** Kinds of photographs that are taken, each with what makes it hard. */
export const IMPRINT_KINDS = {
  ordinary: 'ordinary light, JPEG of usual quality',
  colour_blocks: 'grey on grey, JPEG of low quality',
  pink: 'pink on aluminium, falling light',
  pale_pink: 'pink hardly lighter than the metal, steeply falling light',
  edges_2: 'edges of 2 mm',
  edges_4: 'edges of 4 mm',
  overexposed_metal: 'dark material, metal overexposed 1.3 to 2.5 times',
  overexposed_white: 'white material, overexposed 1.3 to 2.5 times',
} as const;
export type ImprintKind = keyof typeof IMPRINT_KINDS;

/** A scene of one kind by its number, with the quality at which its photograph is kept as JPEG. */
export function sceneOfKind(kind: ImprintKind, seed: number): { scene: ImprintScene; quality: number } {
  const random = seededRandom(104729 * seed + 31 * Object.keys(IMPRINT_KINDS).indexOf(kind));
  const between = (a: number, b: number) => a + (b - a) * random.uniform();
  const plain = someScene(seed);
  const quality = Math.round(between(60, 92));
  switch (kind) {
    case 'ordinary':
      return { scene: plain, quality };
    case 'colour_blocks': {
      const grey = between(0.35, 0.5);
      const darker = grey * between(0.55, 0.8);
      const texture = { metal: between(0.01, 0.04), material: between(0.01, 0.04) };
      const tones = { metal: [grey, 0.99 * grey, 0.97 * grey], material: [darker, 1.02 * darker, 1.04 * darker] } as Pick<
        ImprintScene,
        'metal' | 'material'
      >;
      return {
        scene: { ...plain, ...tones, texture, glare: [], smear: null, noise: between(0.3, 1.5) },
        quality: Math.round(between(20, 55)),
      };
    }
    case 'pink':
      return {
        scene: { ...plain, ...PINK, glare: [], light: { x: between(-0.9, 0.9), y: between(-0.9, 0.9), out: between(-0.3, 0) } },
        quality,
      };
    case 'pale_pink': {
      const light = { x: between(-1.1, 1.1), y: between(-1.1, 1.1), out: between(-0.4, 0) };
      return { scene: { ...plain, ...PALE_PINK, glare: [], light, cover: between(0.15, 0.95) }, quality };
    }
    case 'edges_2':
      return { scene: { ...plain, edge_mm: 2, glare: [] }, quality };
    case 'edges_4':
      return { scene: { ...plain, edge_mm: 4, glare: [] }, quality };
    case 'overexposed_metal':
      return { scene: { ...plain, material: [0.14, 0.15, 0.17], exposure: between(1.3, 2.5), glare: [] }, quality };
    case 'overexposed_white':
      return { scene: { ...plain, material: [0.82, 0.83, 0.85], exposure: between(1.3, 2.5), glare: [] }, quality };
  }
}

const ALUMINIUM: ImprintScene['metal'] = [0.55, 0.55, 0.56];
const PINK: Pick<ImprintScene, 'metal' | 'material'> = { metal: ALUMINIUM, material: [0.75, 0.55, 0.6] };
const PALE_PINK: Pick<ImprintScene, 'metal' | 'material'> = { metal: ALUMINIUM, material: [0.64, 0.51, 0.55] };
