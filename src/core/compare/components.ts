/**
 * Numbers the specimens by which of them can be compared: two belong together where mounts in the same block, or a chain of such, link
 * them.
 * @param rows specimens with the block each mount was made in
 * @returns component of each specimen and of each block, from 0
 */
export function linkedComponents(rows: { specimen: string; block: string }[]): {
  specimens: Map<string, number>;
  blocks: Map<string, number>;
  count: number;
} {
  const neighbours = new Map<string, Set<string>>();
  const link = (from: string, to: string) => {
    const known = neighbours.get(from) ?? new Set();
    known.add(to);
    neighbours.set(from, known);
  };
  for (const r of rows) {
    link(`s${r.specimen}`, `b${r.block}`);
    link(`b${r.block}`, `s${r.specimen}`);
  }
  const component = new Map<string, number>();
  let count = 0;
  for (const start of neighbours.keys()) {
    if (component.has(start)) continue;
    const waiting = [start];
    while (waiting.length > 0) {
      const node = waiting.pop() as string;
      if (component.has(node)) continue;
      component.set(node, count);
      waiting.push(...(neighbours.get(node) ?? []));
    }
    count++;
  }
  const part = (sign: string) => new Map([...component].filter(([k]) => k.startsWith(sign)).map(([k, c]) => [k.slice(1), c]));
  return { specimens: part('s'), blocks: part('b'), count };
}
