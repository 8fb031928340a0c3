import { describe, expect, it } from 'vitest';
import { foundWords, openingProblem } from './opening';

describe('what was found on opening', () => {
  it('is told in words', () => {
    expect(foundWords(['as_made'])).toBe('as it was made');
    expect(foundWords(['pumped_out', 'dry', 'shifted'])).toBe('pumped out, dry and shifted');
  });
  it.each([
    [[], '', /^Say what was found: as it was made, dry/],
    ['dry', '', /^Say what was found/],
    [['burnt'], '', /^Say what was found/],
    [['toString'], '', /^Say what was found/],
    [['as_made', 'dry'], '', /either as it was made/],
    [['dry', 'dry'], '', /listed once/],
    [['dry'], 'x'.repeat(501), /up to 500/],
  ])('%j with a note is refused where it says nothing', (found, note, problem) => {
    expect(openingProblem(found, note)).toMatch(problem);
  });
  it('holds several things at once', () => {
    expect(openingProblem(['leaked', 'corroded'], 'along the east edge')).toBeNull();
  });
});
