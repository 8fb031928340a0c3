import sharp from 'sharp';
import { measureImprint } from '#core/image/measureImprint';
import { type Corners, type Imprint, ImprintError } from '#core/image/types';
import { photograph, type TrueImprint } from '#simulator/photograph';
import { type ImprintKind, sceneOfKind } from './imprintKinds.ts';

const PIXELS = [880, 660] as const;

/**
 * A planted photograph, kept as a camera keeps it (JPEG, one colour for two by two pixels), and what is measured in it; null where it is
 * refused.
 */
export async function measuredJpeg(kind: ImprintKind, seed: number): Promise<{ print: Imprint | null; truth: TrueImprint }> {
  const { scene, quality } = sceneOfKind(kind, seed);
  const photo = photograph(scene, ...PIXELS);
  const { width, height } = photo;
  const jpeg = await sharp(photo.data, { raw: { width, height, channels: 4 } })
    .removeAlpha()
    .jpeg({ quality, chromaSubsampling: '4:2:0' })
    .toBuffer();
  const data = new Uint8ClampedArray(await sharp(jpeg).ensureAlpha().raw().toBuffer());
  const { length_mm, width_mm, mirrored } = scene;
  const face_goes_on = scene.around === scene.metal;
  try {
    const options = { corners: photo.corners as Corners, length_mm, width_mm, mirrored, face_goes_on, threshold: null, swapped: false };
    return { print: measureImprint({ width, height, data }, options), truth: photo.truth };
  } catch (error) {
    if (error instanceof ImprintError) return { print: null, truth: photo.truth };
    throw error;
  }
}
