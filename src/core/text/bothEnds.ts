/** A long name with its beginning and its end, where lots and sizes stand. */
export function bothEnds(text: string, most: number): string {
  if (text.length <= most) return text;
  const tail = Math.floor(most / 2);
  return `${text.slice(0, most - tail - 1).trimEnd()}…${text.slice(-tail).trimStart()}`;
}
