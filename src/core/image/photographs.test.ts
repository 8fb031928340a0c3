import { describe, expect, it } from 'vitest';
import { type ImprintScene, type Photograph, photograph, someScene } from '#simulator/photograph';
import { measureImprint } from './measureImprint';
import type { Corners, ImprintOptions } from './types';

// Photographs are drawn ray by ray through a pinhole camera, with their truth from the outline itself: nothing of the
// measurement is in them, neither a homography nor a threshold.
const PIXELS = [640, 480] as const;

function optionsFor(scene: ImprintScene, photo: Photograph): ImprintOptions {
  const { length_mm, width_mm, mirrored } = scene;
  return {
    corners: photo.corners as Corners,
    length_mm,
    width_mm,
    mirrored,
    face_goes_on: scene.around === scene.metal,
    threshold: null,
    swapped: false,
  };
}

describe('of sixty seeded photographs every third', () => {
  for (let group = 0; group < 6; group++) {
    it(`scenes from ${12 * group + 1} to ${12 * group + 10}: cover and voids within 2 %, centre within 0.5 mm`, {
      timeout: 120_000,
    }, () => {
      for (let seed = 12 * group + 1; seed <= 12 * group + 10; seed += 3) {
        const scene = someScene(seed);
        const photo = photograph(scene, ...PIXELS);
        const print = measureImprint(photo, optionsFor(scene, photo));
        const told = `scene ${seed}: cover ${print.cover} for ${photo.truth.cover}, voids ${print.voids.share} for ${photo.truth.void_share}`;
        expect(Math.abs(print.cover - photo.truth.cover), told).toBeLessThan(0.02);
        expect(Math.abs(print.voids.share - photo.truth.void_share), told).toBeLessThan(0.02);
        expect(Math.hypot(print.offset.x_mm - photo.truth.offset.x, print.offset.y_mm - photo.truth.offset.y), told).toBeLessThan(0.5);
      }
    });
  }

  it('are of every kind: glare, smear, mirrored, steep, little and much cover, bare and dark surroundings', () => {
    const scenes = Array.from({ length: 60 }, (_, i) => someScene(i + 1));
    const some = (kind: (s: ImprintScene) => boolean) => expect(scenes.filter(kind).length).toBeGreaterThan(4);
    some((s) => s.glare.length > 0);
    some((s) => s.smear !== null);
    some((s) => s.mirrored);
    some((s) => s.tilt > 28);
    some((s) => s.cover < 0.45);
    some((s) => s.cover > 0.9);
    some((s) => s.voids.length > 2);
    some((s) => s.around === s.metal);
    some((s) => s.texture.material > 0.09);
    some((s) => Math.hypot(s.light.x, s.light.y) > 0.3);
    some((s) => s.noise > 3);
  });
});

describe('a photograph that cannot be measured', () => {
  const plain: ImprintScene = { ...someScene(4), glare: [], smear: null, tilt: 10, lean: 30, turn: 5, cover: 0.7, mirrored: false };
  const photo = photograph(plain, ...PIXELS);
  const good = optionsFor(plain, photo);
  const refused = (corners: Corners, p: Pick<Photograph, 'width' | 'height' | 'data'> = photo, more: Partial<ImprintOptions> = {}) => {
    try {
      measureImprint(p, { ...good, ...more, corners });
    } catch (error) {
      return error as Error & { code?: string };
    }
    return null;
  };
  const [a, b, c, d] = good.corners;

  it('is measured where nothing is wrong', () => {
    expect(refused(good.corners)).toBeNull();
  });

  it('says that its corners cross, or run the wrong way', () => {
    expect(refused([a, c, b, d])).toMatchObject({ code: 'corners_crossed', message: expect.stringMatching(/corners cross/) });
    expect(refused([b, a, d, c])).toMatchObject({ code: 'corners_crossed', message: expect.stringMatching(/wrong way round/) });
  });

  it('says that a corner is not in it', () => {
    expect(refused([{ x: -4, y: a.y }, b, c, d])).toMatchObject({ code: 'corner_outside' });
  });

  it('says that the part is too small in it', () => {
    const near = good.corners.map((p) => ({ x: 400 + p.x / 6, y: 300 + p.y / 6 })) as Corners;
    expect(refused(near)).toMatchObject({ code: 'part_small', message: expect.stringMatching(/only \d+ pixels/) });
  });

  it('says that it was taken from too far aside', () => {
    const steep = photograph({ ...plain, tilt: 66, lean: 0, turn: 0 }, 2400, 1800);
    expect(refused(steep.corners as Corners, steep)).toMatchObject({ code: 'too_steep' });
  });

  it('says that sides in mm are none', () => {
    expect(refused(good.corners, photo, { length_mm: 0 })).toMatchObject({ code: 'size' });
  });

  it('says that glare hides too much', () => {
    const glare = photograph({ ...plain, glare: [{ x: 2, y: 0, radius: 9, strength: 6 }] }, ...PIXELS);
    expect(refused(glare.corners as Corners, glare)).toMatchObject({ code: 'glare', message: expect.stringMatching(/hides \d+ %/) });
  });

  it('says that it is nearly black', () => {
    const dark = { ...photo, data: photo.data.map((v, i) => (i % 4 === 3 ? 255 : v / 12)) };
    expect(refused(good.corners, dark)).toMatchObject({ code: 'dark' });
  });

  it('says that only one tone is seen, bare or covered', () => {
    for (const material of [plain.metal, [0.14, 0.15, 0.17] as ImprintScene['material']]) {
      const scene: ImprintScene = {
        ...plain,
        material,
        cover: material === plain.metal ? 0.5 : 1,
        squareness: 8,
        voids: [],
        texture: { metal: 0.05, material: 0.05 },
      };
      const one = photograph(scene, ...PIXELS);
      expect(refused(one.corners as Corners, one)).toMatchObject({ code: 'one_tone' });
    }
  });
});
