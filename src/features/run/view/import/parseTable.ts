import Papa from 'papaparse';

/** Cells of a pasted or dropped table: parted by tabs, commas or semicolons as it is; comment lines and empty ones are left out. */
export const parseTable = (text: string): string[][] =>
  Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy', comments: '#' }).data;
