/** A specimen as the order of mounts sees it. */
export interface OrderSpecimen {
  specimen: string;
  /** mounts wanted, as far as stock and coupons go */
  mounts: number;
  /** conditioning or cure Between assembly and first run., minutes; the rig is occupied, the tester is free, nights count */
  wait_min: number;
  /** contaminates: late in its day, only a closing reference after it */
  last: boolean;
  /** a state that cannot come back: measured on its rig before anything else is mounted there */
  first?: boolean;
  /** a permanent bond without a coupon: the last mount of its rig in the whole study */
  permanent?: boolean;
}

/** What an order of mounts is drawn from. Times are minutes. */
export interface OrderPlan {
  specimens: OrderSpecimen[];
  reference: string;
  /** true where extra mounts of the reference open and close each day, to see a drift of the bench */
  bracket?: boolean;
  runs: number;
  /** hands-on time of one mount; one tester, so two mounts never overlap in it */
  mount_min: number;
  /** one run with its cool-down; needs the rig, not the tester */
  run_min: number;
  day_min: number;
  rigs: string[];
  /** start of each bench day from the start of the first; days beyond the list follow daily */
  day_starts_min: number[];
  /** bench days at hand; null where they are not limited */
  days: number | null;
}

/** One mount in the order. Its place is (rig, day, position in the list among those of its rig and day). */
export interface PlannedMount {
  specimen: string;
  mount: number;
  rig: string;
  /** bench day, from 1 */
  day: number;
  /** a reference mount that opens or closes a day beyond the wanted number of mounts */
  extra: boolean;
  state: 'planned' | 'done' | 'failed' | 'lost';
}

export interface Placement {
  start_min: number;
  hands_end_min: number;
  runs_start_min: number;
  end_min: number;
  runs_day: number;
  fits: boolean;
}

/** A planned mount with its times, minutes from the start of the first day. */
export interface TimedMount extends PlannedMount, Placement {
  /** place within its day over all rigs, from 1, by start */
  slot: number;
}
