import type { Checked } from '#ui/checked';

/** Of one case: how many statements were made, how many held, and whether the product declined to say anything. */
export interface Case {
  said: number;
  held: number;
  declined: boolean;
}

export interface Claim {
  /** the table that it stands in, to which places link */
  subject: Checked;
  claim: string;
  condition: string;
  /** share of statements that are to hold, percent */
  promised: [number, number] | (() => [number, number]);
  cases: number;
  /** an ordinary condition, in which at most 1 % of the cases may be declined */
  clean?: boolean;
  run: (seed: number) => Case | Promise<Case>;
}

export const NOTHING: Case = { said: 0, held: 0, declined: true };

/** One statement. */
export const said = (held: boolean): Case => ({ said: 1, held: held ? 1 : 0, declined: false });

/** Promised 95 %; up to all of them where an interval is careful by design. */
export const HOLDS: [number, number] = [93, 97];
export const CAREFUL: [number, number] = [93, 100];

/** Does an interval hold a truth? */
export const within = (ci: readonly [number, number], truth: number) => ci[0] <= truth && truth <= ci[1];

export const oneOf = <T>(list: T[], u: number) => list[Math.min(list.length - 1, Math.floor(u * list.length))];
