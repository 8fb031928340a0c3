/** Colour of a rise between the coolest and hottest shown: teal, bone, ember. Mixed by the browser, so it follows the theme. */
export function rampColour(value: number, low: number, high: number): string {
  const share = high > low ? Math.min(1, Math.max(0, (value - low) / (high - low))) : 0.5;
  const percent = Math.round(share < 0.5 ? 200 * share : 200 * (share - 0.5));
  return share < 0.5
    ? `color-mix(in oklab, var(--bone) ${percent}%, var(--cool))`
    : `color-mix(in oklab, var(--hot) ${percent}%, var(--bone))`;
}
