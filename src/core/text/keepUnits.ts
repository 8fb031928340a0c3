/** Keeps a figure and its unit on one line. */
export const keepUnits = (text: string): string => text.replace(/(\d) (K\b|K\/W|W\b|rpm|MHz|dB|%|s\b)/g, '$1\u00a0$2');
