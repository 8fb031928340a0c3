/**
 * How long a test waits for what must come, ms. It says nothing about speed: a machine that others hold takes many times as long, and is
 * not wrong. What is slow in itself is measured in `benchmarks/`.
 */
export const PATIENCE_MS = 120_000;

/** How long a whole test, or what comes before it, may take, ms. */
export const TEST_MS = 600_000;
