import { describe, expect, it } from 'vitest';
import { frameFigures } from './frames';
import { looksLikeResults, readResults } from './readResults';

const read = (text: string, name = 'results.csv') => readResults(name, new TextEncoder().encode(text));

describe('frames', () => {
  it('weigh by time: the mean rate is frames over their time, not the mean of rates', () => {
    expect(frameFigures([10, 30])).toEqual({ frame_rate: 50, slow_frame_rate: 1000 / 30, frame_time_ms: 20 });
  });
  it('the slow rate is that of the slowest hundredth', () => {
    const times = [...Array.from({ length: 198 }, () => 10), 40, 60];
    expect(frameFigures(times)?.slow_frame_rate).toBe(1000 / 50);
  });
  it('are none where no time is above nought', () => {
    expect(frameFigures([0, -1, Number.NaN])).toBeNull();
  });
});

describe('results files', () => {
  it.each([
    ['JSON, nested', '{"meta":{"version":3},"results":{"score":4321,"runTime_s":612.5}}', { score: 4321, run_time_s: 612.5 }],
    ['JSON with units behind the numbers', '{"run time":"10.5 min","Score":"1800 points"}', { score: 1800, run_time_s: 630 }],
    ['JSON with frame times in ms', '{"frameTimes_ms":[10,10,20]}', { frames: 3, frame_time_ms: 40 / 3, frame_rate: 75 }],
    ['JSON with frame times in seconds', '{"frame_times":[0.010,0.010,0.020]}', { frame_rate: 75 }],
    ['a table of frames', 'Frame,Frame time (ms)\n1,10\n2,10\n3,20\n', { frame_rate: 75, frames: 3 }],
    ['lines of a name and a value', 'Program;Hut sweep\nScore;4321\nElapsed time (s);612.4\n', { score: 4321, run_time_s: 612.4 }],
    ['lines with colons', 'Score: 4321 points\nDuration: 90 s\n', { score: 4321, run_time_s: 90 }],
    ['rates that the program worked out', '{"avg fps":61.5,"1% low fps":44}', { frame_rate: 61.5, slow_frame_rate: 44 }],
    ['a table of several passes, whose scores are averaged', 'Pass,Score\n1,100\n2,110\n', { score: 105 }],
  ])('%s', (_, text, figures) => {
    expect(read(text)).toMatchObject(figures);
  });
  it.each([
    ['{"score": 43', 'this begins like JSON but is not'],
    ['{"name":"x"}', 'no score, run time, frame rate or frame time is found'],
    ['hello\nworld\n', 'no score, run time'],
    ['{"score": -5}', 'a score of -5 is not plausible'],
  ])('%j is told in a sentence', (text, sentence) => {
    expect(() => read(text)).toThrow(sentence);
  });
  it('are told from logs by their beginning', () => {
    expect(looksLikeResults('{"score":1}')).toBe(true);
    expect(looksLikeResults('Frame,Frame time (ms)\n1,10\n')).toBe(true);
    expect(looksLikeResults('Time,Die 1 (°C),Power (W)\n')).toBe(false);
    expect(looksLikeResults('Time,Die (°C),FPS\n')).toBe(false);
    expect(looksLikeResults('Time (s),Room\n0,22\n')).toBe(false);
  });
});

describe('a number with one comma before three digits', () => {
  const read = (text: string) => readResults('r.csv', new TextEncoder().encode(text));
  it('is told by the other numbers of the file, and asked about where they do not tell', () => {
    expect(() => read('Score;1,234\n')).toThrow('which may be 1234 or 1.234');
    expect(read('Run time (s);61,5\nScore;1,234\n').score).toBeCloseTo(1.234, 9);
    expect(read('Run time (s);61.5\nScore;1,234\n').score).toBe(1234);
    expect(read('Score;12,345.6\n').score).toBe(12345.6);
    expect(read('Score;1234\n').score).toBe(1234);
  });
});
