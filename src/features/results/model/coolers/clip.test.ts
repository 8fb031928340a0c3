import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { ClipAbout, clipKind } from './clip';

const bytes = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

describe('a clip', () => {
  it.each([
    ['RIFF0000WAVEfmt ', 'audio/wav'],
    ['OggS00000000', 'audio/ogg'],
    ['fLaC00000000', 'audio/flac'],
    ['0000ftypM4A ', 'audio/mp4'],
    ['ID3000000000', 'audio/mpeg'],
    ['\xff\xfb\x90\x00', 'audio/mpeg'],
    ['RIFF0000AVI ', null],
    ['<html>hello', null],
    ['', null],
  ])('is what its first bytes say (%j)', (text, kind) => {
    expect(clipKind(bytes(text))).toBe(kind);
  });
  it('has a speed and a level within what fans have', () => {
    expect(check(ClipAbout, { rpm: 1200, level_db: 32.5, note: 'hum' })).toMatchObject({ rpm: 1200 });
    expect(() => check(ClipAbout, { rpm: 0 })).toThrow('between 1 and 100000 rpm');
    expect(() => check(ClipAbout, { level_db: 200 })).toThrow('between 0 and 140 dB');
    expect(() => check(ClipAbout, { note: 'x'.repeat(201) })).toThrow('up to 200');
  });
});
