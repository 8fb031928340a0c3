/** A request that cannot be done, told in a sentence: what is wrong, where, and what would be right. */
export class Refusal extends Error {
  constructor(
    message: string,
    /**
     * HTTP status: 400 wrong input, 404 not there, 409 clashes with what is stored, 413 too large, 501 cannot be done on this machine, 502
     * a program it rests on failed
     */
    readonly status: 400 | 404 | 409 | 413 | 501 | 502 = 400,
    readonly details: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'Refusal';
  }
}
