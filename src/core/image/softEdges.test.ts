import { describe, expect, it } from 'vitest';
import { edgeDistance, edgeWidth } from './softEdges';

const ACROSS = 200;
const PER_MM = 10;
/** A disc of 60 cells radius whose edge thins out linearly over so many cells. */
const disc = (width: number) =>
  Float32Array.from({ length: ACROSS * ACROSS }, (_, i) => {
    const r = Math.hypot((i % ACROSS) - 100, Math.floor(i / ACROSS) - 100);
    return Math.max(0, Math.min(1, 0.5 + (60 - r) / Math.max(1, width)));
  });
const covered = (score: Float32Array) => Uint8Array.from(score, (s) => (s > 0.5 ? 1 : 0));

describe('edges', () => {
  it('are as far away as a ruler says, within 8 %', () => {
    const distance = edgeDistance(covered(disc(1)), ACROSS);
    expect(distance[100 * ACROSS + 100]).toBeGreaterThan(0.92 * 60);
    expect(distance[100 * ACROSS + 100]).toBeLessThan(1.08 * 60);
    expect(distance[100 * ACROSS + 120]).toBeCloseTo(40, -0.6);
    expect(distance[100 * ACROSS + 190]).toBeCloseTo(-30, -0.6);
  });
  it('are as wide as they were drawn', () => {
    for (const width of [20, 40]) {
      const score = disc(width);
      expect(edgeWidth(score, edgeDistance(covered(score), ACROSS), PER_MM)).toBeCloseTo(width / PER_MM, 0);
    }
    const sharp = disc(1);
    expect(edgeWidth(sharp, edgeDistance(covered(sharp), ACROSS), PER_MM)).toBeLessThan(0.2);
  });
});
