import { nestEqual } from './cuts';
import type { MaterialSheet } from './sheets';

/** Mounts that one pack serves; null where the sheet does not tell. */
export function mountsPerPack(m: MaterialSheet): number | null {
  if (m.pack_size == null) return null;
  if (m.pack_unit === 'sheets') {
    if (m.cut_length_mm == null || m.cut_width_mm == null || m.sheet_length_mm == null || m.sheet_width_mm == null) return null;
    return (
      m.pack_size *
      nestEqual({ length: m.sheet_length_mm, width: m.sheet_width_mm }, { length: m.cut_length_mm, width: m.cut_width_mm }).length
    );
  }
  return m.per_mount == null ? null : Math.floor(m.pack_size / m.per_mount + 1e-9);
}

export interface Stock {
  per_pack: number | null;
  bought: number | null;
  left: number | null;
  /** money for one mount, in the sheet's currency; null where price or yield is unknown */
  cost: number | null;
}

/** What is left in the packs after some mounts, in the pack's unit; null where the sheet does not tell. Only a sheet can be used again. */
export function amountLeft(m: MaterialSheet, used: number, per_mount: number | null = m.per_mount ?? null): number | null {
  if (m.pack_size == null || m.packs == null || per_mount === null || m.pack_unit === 'sheets') return null;
  return Math.max(0, m.packs * m.pack_size - used * per_mount);
}

/** What is left of a material after some mounts. A reusable piece serves all of them, so one is taken. */
export function stockOf(m: MaterialSheet, used: number): Stock {
  const perPack = mountsPerPack(m);
  const bought = perPack === null || m.packs == null ? null : Math.floor(perPack * m.packs);
  const left = bought === null ? null : Math.max(0, bought - (m.reusable && m.pack_unit === 'sheets' ? Math.min(used, 1) : used));
  const cost = m.price == null || !perPack ? null : m.price / perPack;
  return { per_pack: perPack, bought, left, cost };
}

/** Mounts that what is left allows; null where the sheet does not tell, and for pieces that serve again, once there is one. */
export function mountsLeft(m: MaterialSheet, used: number): number | null {
  const { bought, left } = stockOf(m, used);
  return m.reusable && (bought ?? 0) > 0 ? null : left;
}
