/** A request that cannot be done, told in a sentence: what is wrong, where, and what would be right. */
export class Refusal extends Error {
  constructor(
    message: string,
    /**
     * HTTP status: 400 wrong input, 404 not there, 408 stalled, 409 clashes with what is stored, 413 too large, 500 what is stored is damaged, 501 cannot be done on this machine, 502
     * a program it rests on failed
     */
    readonly status: 400 | 404 | 408 | 409 | 413 | 500 | 501 | 502 = 400,
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'Refusal';
  }
}

/** What is kept is not what was stored. */
export const damaged = (what: string): Refusal =>
  new Refusal(
    `${what} is damaged in the store: its bytes are not those that were stored. Nothing was read from it; ./warm-gauge check lists all that is damaged.`,
    500,
  );
