/** Names of the sensors of a part. */
export const sensorsOf = ({ sensors }: { sensors?: string | null }): string[] =>
  (sensors ?? '')
    .split(',')
    .map((s) => s.trim())
    .filter((s) => s !== '');
