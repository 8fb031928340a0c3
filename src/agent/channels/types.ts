import type { Role } from '#core/signal/logs/types';
import type { Unit } from '#core/units/units';

/** One quantity that the machine tells of itself. */
export interface Channel {
  /** unique on the machine, as its sheet will call it */
  name: string;
  role: Role;
  /** null for what is counted or is yes or no */
  unit: Unit | null;
  /** where it comes from, in the kernel's own words */
  from: string;
  /**
   * Its value now; null where there is none, as where its file vanished or says what cannot be.
   * @param now_ms a time that only goes on, ms
   */
  read: (now_ms: number) => number | null;
}

/** Something that is there and is not read. */
export interface LeftOut {
  what: string;
  why: string;
  /** what would let us read it; null where nothing would */
  remedy: string | null;
}

/** What a machine has. */
export interface Found {
  channels: Channel[];
  left_out: LeftOut[];
}
