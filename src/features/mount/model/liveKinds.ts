/** Ways of a live run, in words. */
export const LIVE_KINDS = { run: 'Runs', conditioning: 'Conditioning cycles', limit_test: 'Attended test to the limit' } as const;

/** Events that a test to the limit waits for. */
export const LIMIT_EVENTS = ['warning', 'power reduced', 'shut-off'];
