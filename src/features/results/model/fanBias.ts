/**
 * Which way a difference in temperature is biased where air was not alike (method, §3.10).
 * @param cooler_by how much cooler the one told of is, K; below 0 where it is warmer
 * @param more_air true where it had more air: a fan that turned faster, or was louder
 */
export function biasWords(cooler_by: number, more_air: boolean): string {
  if (cooler_by >= 0) {
    return more_air
      ? 'the gain is at most this: with as much air as the other it would be smaller'
      : 'the gain is at least this: with as much air as the other it would be larger';
  }
  return more_air
    ? 'the loss is at least this: with as much air as the other it would be larger'
    : 'the loss is at most this: with as much air as the other it would be smaller';
}
