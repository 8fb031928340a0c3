/**
 * Times at even steps from a beginning, which do not drift: each is told from the beginning and not from the one before. A step that was
 * slept through is left out and counted.
 */
export class Schedule {
  private step = 0;
  /** steps that were left out */
  missed = 0;

  /**
   * @param begin_ms time of the first step
   * @param period_ms from one to the next
   */
  constructor(
    private readonly begin_ms: number,
    private readonly period_ms: number,
  ) {}

  /** The next time that is to come, or is past by less than half a step, ms. */
  next(now_ms: number): number {
    const due = Math.max(this.step, Math.ceil((now_ms - this.begin_ms) / this.period_ms - 0.5));
    this.missed += due - this.step;
    this.step = due + 1;
    return this.begin_ms + due * this.period_ms;
  }
}
