/** What a controller of power is told and goes by. */
export interface HoldOptions {
  /** power that is to be held, W */
  target_w: number;
  /** time within which a deviation is taken back, s; longer is calmer */
  response_s: number;
  /** half width of what counts as held, as a share of the target */
  tolerance: number;
  /** mean over which it is told whether the power is held, s */
  window_s: number;
}

export const HOLD_DEFAULTS: Omit<HoldOptions, 'target_w'> = { response_s: 3, tolerance: 0.005, window_s: 30 };

/** How well the power is held. */
export interface Held {
  /** share of its most that the load is to do from now on, 0 to 1 */
  duty: number;
  /** mean power over the last window, W; null before one has passed */
  mean_w: number | null;
  state: 'starting' | 'settling' | 'held' | 'too_weak' | 'too_strong';
}

/** How long the first trial of the load takes, s, and its share of the most. */
const TRIAL_S = 3;
const TRIAL_DUTY = 0.5;
/** So long at an end of what the load can do, and it is told that the target is out of reach, s. */
const OUT_OF_REACH_S = 20;
/** Least power that full load is taken to add, as a share of the target, until the trial is over. */
const LEAST_GAIN = 0.02;

/**
 * Holds a measured power by a load that can be set between nothing and its most: integral control by a gain that is learnt, first in a trial
 * at half load and then from what each change did. The integral makes the mean of any stretch in reach equal the target, whatever leakage,
 * boost and fans add meanwhile (Åström & Hägglund, Advanced PID Control, 2006, §3 and §9 on adaptive gains).
 */
export class HoldPower {
  private duty = 0;
  private began_s: number | null = null;
  private last_s = 0;
  private idle_w = 0;
  /** W between no load and the most */
  private gain_w: number;
  private trial: number[] = [];
  private readonly recent: { t: number; w: number; dt: number }[] = [];
  private atEnd_s = 0;

  constructor(private readonly options: HoldOptions) {
    this.gain_w = LEAST_GAIN * options.target_w;
  }

  /** Before the load: the power that the machine takes anyway, W. */
  noteIdle(power_w: number): void {
    this.idle_w = this.idle_w === 0 ? power_w : this.idle_w + 0.2 * (power_w - this.idle_w);
  }

  /**
   * A reading of the power, the mean since the reading before.
   * @param t_s a time that only goes on, s
   */
  step(t_s: number, power_w: number): Held {
    this.began_s ??= t_s;
    const dt = Math.max(0, t_s - this.last_s);
    const passed = t_s - this.began_s;
    this.last_s = t_s;
    if (passed < TRIAL_S) {
      // the readings of the first second are of both states
      if (passed > 1) this.trial.push(power_w);
      this.duty = TRIAL_DUTY;
      return { duty: this.duty, mean_w: null, state: 'starting' };
    }
    if (this.trial.length > 0) this.endTrial();
    else this.correct(power_w, Math.min(dt, 2 * this.options.response_s));
    this.note(t_s, power_w, dt);
    return { duty: this.duty, ...this.judge(t_s) };
  }

  private endTrial(): void {
    const mean = this.trial.reduce((a, b) => a + b, 0) / this.trial.length;
    this.trial = [];
    this.gain_w = Math.max(this.gain_w, (mean - this.idle_w) / TRIAL_DUTY);
    this.duty = clamp((this.options.target_w - this.idle_w) / this.gain_w);
  }

  private correct(power_w: number, dt: number): void {
    const { target_w, response_s } = this.options;
    // what the load adds now says what its most would add; boost, leakage and a throttle make it another than in the trial
    if (this.duty > 0.05) {
      const seen = (power_w - this.idle_w) / this.duty;
      this.gain_w = Math.max(LEAST_GAIN * target_w, this.gain_w + (1 - Math.exp(-dt / (5 * response_s))) * (seen - this.gain_w));
    }
    const share = 1 - Math.exp(-dt / response_s);
    this.duty = clamp(this.duty + (share * (target_w - power_w)) / this.gain_w);
  }

  private note(t: number, w: number, dt: number): void {
    this.recent.push({ t, w, dt });
    while (this.recent.length > 1 && this.recent[0].t <= t - this.options.window_s) this.recent.shift();
    this.atEnd_s = this.duty <= 0 || this.duty >= 1 ? this.atEnd_s + dt : 0;
  }

  private judge(t_s: number): Pick<Held, 'mean_w' | 'state'> {
    const { target_w, tolerance, window_s } = this.options;
    const time = this.recent.reduce((sum, r) => sum + r.dt, 0);
    const mean_w = t_s - (this.began_s ?? t_s) < TRIAL_S + window_s ? null : this.recent.reduce((sum, r) => sum + r.w * r.dt, 0) / time;
    if (this.atEnd_s > OUT_OF_REACH_S) return { mean_w, state: this.duty >= 1 ? 'too_weak' : 'too_strong' };
    return { mean_w, state: mean_w !== null && Math.abs(mean_w - target_w) <= tolerance * target_w ? 'held' : 'settling' };
  }
}

const clamp = (duty: number): number => Math.min(1, Math.max(0, duty));
