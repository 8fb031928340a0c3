import { describe, expect, it } from 'vitest';
import { fitSweep } from '#core/thermal/coolers/sweep';
import { type CoolersGiven, coolerRows, heldOf, usualHeld } from './coolerRows';

/** A cooler whose resistance falls and whose noise rises with its speed, on three mounts. */
const sweep = (name: string, base: number, from = 600, to = 1800) => ({
  ...{ name, rig_id: 1, rig: 'Sled', material: 'Ash', area_mm2: 400 },
  sweep: fitSweep(
    name,
    [1, 2, 3].flatMap((mount) =>
      [0, 0.25, 0.5, 0.75, 1].map((share) => {
        const rpm = from + share * (to - from);
        return { mount: String(mount), rpm, rise: base + 40 * rpm ** -0.9 + 0.001 * mount, level: 50 * Math.log10(rpm) - 115 };
      }),
    ),
  ),
});
const given = (over: Partial<CoolersGiven> = {}): CoolersGiven => ({
  ...{ study_id: 1, study: 'One', lab: null, weighting: 'A', distance_m: 0.5 },
  sweeps: [sweep('Fin', 0.1), sweep('Slab', 0.13)],
  ...over,
});

describe('rows of coolers', () => {
  it('are K/W of each mount at one speed or one noise, and differ as the coolers do', () => {
    for (const held of [
      { by: 'speed', at: 1200 },
      { by: 'noise', at: 39 },
    ] as const) {
      const { rows, unread } = coolerRows([given()], held, 'own');
      expect(rows.map((r) => [r.material, r.mounts])).toEqual([
        ['Fin', 3],
        ['Slab', 3],
      ]);
      expect(rows[1].mean - rows[0].mean).toBeCloseTo(0.03, 4);
      expect(unread).toEqual([]);
    }
  });

  it('leave out what was not measured there, by name', () => {
    const slow = given({ study_id: 2, study: 'Two', sweeps: [sweep('Plate', 0.2, 300, 900)] });
    expect(coolerRows([given(), slow], { by: 'speed', at: 1200 }, 'own').unread).toEqual(['Plate in Two']);
    // a twentieth beyond is read, more is not
    expect(coolerRows([slow], { by: 'speed', at: 944 }, 'own').unread).toEqual([]);
    expect(coolerRows([slow], { by: 'speed', at: 946 }, 'own').unread).toEqual(['Plate in Two']);
  });

  it('keep levels at another distance apart, leave those of another weighting out, and other labs where that is asked', () => {
    const others = [
      given(),
      given({ study_id: 2, distance_m: 1 }),
      given({ study_id: 3, weighting: 'C' }),
      given({ study_id: 4, lab: 'X' }),
    ];
    const setups = (by: 'noise' | 'speed', labs: 'own' | 'all') =>
      new Set(coolerRows(others, { by, at: by === 'noise' ? 39 : 1200 }, labs).rows.map((r) => r.setup)).size;
    expect([setups('noise', 'own'), setups('speed', 'own'), setups('noise', 'all'), setups('speed', 'all')]).toEqual([2, 1, 3, 2]);
    const heard = coolerRows(others, { by: 'noise', at: 39 }, 'own');
    expect([heard.weighting, heard.unread]).toEqual([
      'A',
      ['Fin in One (its levels are weighted C)', 'Slab in One (its levels are weighted C)'],
    ]);
    // what most of them is measured by
    expect(coolerRows([given({ weighting: 'C' }), given({ weighting: 'C' }), given()], { by: 'noise', at: 39 }, 'own').weighting).toBe('C');
  });

  it('are first compared where most can be read, and as an address says', () => {
    expect(usualHeld([given()])).toMatchObject({ by: 'noise' });
    expect(usualHeld([])).toBeNull();
    expect(heldOf(new URLSearchParams('by=speed&at=900'))).toEqual({ by: 'speed', at: 900 });
    expect(heldOf(new URLSearchParams('by=speed&at=49'))).toBeNull();
    expect(heldOf(new URLSearchParams('by=rise&at=9'))).toBeNull();
  });
});
