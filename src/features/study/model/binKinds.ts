/** What can be deleted into the bin. */
export const BIN_KINDS = ['study', 'specimen', 'mount', 'try', 'run', 'note', 'draft', 'sheet'] as const;
export type BinKind = (typeof BIN_KINDS)[number];

/** Days after which what was deleted is gone for good. */
export const BIN_DAYS = 30;
