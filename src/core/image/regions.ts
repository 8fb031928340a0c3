/** A set of neighbouring cells. */
interface Region {
  cells: Int32Array;
  /** true where it reaches the edge of the field */
  touches_edge: boolean;
}

/**
 * Regions of the cells that hold a value, neighbours being those that share a side, or also a corner.
 * @param corners true where cells that only share a corner are neighbours
 */
export function regions(cells: Uint8Array, columns: number, rows: number, value: number, corners: boolean): Region[] {
  const seen = new Uint8Array(cells.length);
  const stack = new Int32Array(cells.length);
  const found: Region[] = [];
  for (let start = 0; start < cells.length; start++) {
    if (seen[start] || cells[start] !== value) continue;
    let top = 0;
    let edge = false;
    const list: number[] = [];
    stack[top++] = start;
    seen[start] = 1;
    while (top > 0) {
      const cell = stack[--top];
      list.push(cell);
      const x = cell % columns;
      const y = (cell - x) / columns;
      if (x === 0 || y === 0 || x === columns - 1 || y === rows - 1) edge = true;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          if ((dx === 0 && dy === 0) || (!corners && dx !== 0 && dy !== 0)) continue;
          const nx = x + dx;
          const ny = y + dy;
          if (nx < 0 || ny < 0 || nx >= columns || ny >= rows) continue;
          const next = ny * columns + nx;
          if (seen[next] || cells[next] !== value) continue;
          seen[next] = 1;
          stack[top++] = next;
        }
      }
    }
    found.push({ cells: Int32Array.from(list), touches_edge: edge });
  }
  return found;
}
