import { type Held, HOLD_DEFAULTS, HoldPower } from '#core/control/holdPower';

/** A load in three parts: rest, heat, rest; seconds. */
export interface Program {
  idle_s: number;
  load_s: number;
  cool_s: number;
}

/** What the load is to do, and when it has to end whatever was asked. */
export interface LoadOrders {
  /** share of its most, where no power is held, 0 to 1 */
  share: number;
  /** power that is held, W; null where a share is */
  hold_w: number | null;
  /** ends the load at this temperature, °C; null where it has no limit */
  limit_c: number | null;
}

/** What the driver of the load sees at one time. */
export interface Seen {
  /** s that only go on */
  t_s: number;
  /** hottest of the part's sensors, °C; null where none is read */
  hottest_c: number | null;
  /** mean power since the last look, W; null where none is read */
  power_w: number | null;
}

/** No figure of what is held, or of the limit, for so long ends the load, s. */
const BLIND_S = 5;

/** Says how much the load does at each time: off until it is asked for, at its share or by the power, and never beyond its limit. */
export class LoadDriver {
  private holder: HoldPower | null = null;
  private asked = false;
  private seen_s = { temperature: 0, power: 0 };
  private began_s: number | null = null;
  /** how the power is held, where it is */
  held: Held | null = null;
  /** why the load ended and does not begin again; null while it may */
  ended: string | null = null;

  constructor(private readonly orders: LoadOrders) {
    this.renew();
  }

  /** Asks for the load, or for its end. */
  ask(on: boolean): void {
    if (on && !this.asked) this.began_s = null;
    if (!on && this.asked) this.renew();
    this.asked = on;
  }

  get isAsked(): boolean {
    return this.asked && this.ended === null;
  }

  /** Share of the most that the load is to do from now on, 0 to 1. */
  step({ t_s, hottest_c, power_w }: Seen): number {
    const { share, hold_w, limit_c } = this.orders;
    if (!this.isAsked) {
      if (power_w !== null) this.holder?.noteIdle(power_w);
      return 0;
    }
    if (this.began_s === null) {
      this.began_s = t_s;
      this.seen_s = { temperature: t_s, power: t_s };
    }
    if (hottest_c !== null) this.seen_s.temperature = t_s;
    if (power_w !== null) this.seen_s.power = t_s;
    if (limit_c !== null && hottest_c !== null && hottest_c >= limit_c)
      return this.end(`The part reached ${hottest_c.toFixed(1)} °C, its limit is ${limit_c} °C.`);
    if (limit_c !== null && t_s - this.seen_s.temperature > BLIND_S) return this.end(`No temperature was read for ${BLIND_S} s.`);
    if (hold_w === null) return share;
    if (t_s - this.seen_s.power > BLIND_S) return this.end(`No power was read for ${BLIND_S} s, so it cannot be held.`);
    if (power_w !== null) this.held = this.holder?.step(t_s, power_w) ?? null;
    return this.held?.duty ?? 0;
  }

  private renew(): void {
    const { hold_w } = this.orders;
    this.holder = hold_w === null ? null : new HoldPower({ ...HOLD_DEFAULTS, target_w: hold_w });
    this.held = null;
  }

  private end(why: string): number {
    this.ended = `${why} The load was ended.`;
    return 0;
  }
}

/** What a program asks for at a time since its beginning: the load, or its end. */
export function partOf({ idle_s, load_s, cool_s }: Program, t_s: number): 'idle' | 'load' | 'cool' | 'over' {
  if (t_s < idle_s) return 'idle';
  if (t_s < idle_s + load_s) return 'load';
  return t_s < idle_s + load_s + cool_s ? 'cool' : 'over';
}
