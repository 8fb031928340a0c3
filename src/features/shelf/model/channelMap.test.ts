import { describe, expect, it } from 'vitest';
import { readAddress, readChannelMap } from './channelMap';

describe('channels of an instrument', () => {
  it('are read with role, unit and query, by semicolons or lines', () => {
    expect(
      readChannelMap('Die 1: sensor °C = MEAS:TEMP? (@101:102); Die 2: sensor degF = MEAS:TEMP? (@101:102)\nThrottling: throttle'),
    ).toEqual({
      channels: [
        { name: 'Die 1', role: 'sensor', unit: 'degC', query: 'MEAS:TEMP? (@101:102)' },
        { name: 'Die 2', role: 'sensor', unit: 'degF', query: 'MEAS:TEMP? (@101:102)' },
        { name: 'Throttling', role: 'throttle', unit: null, query: null },
      ],
    });
  });
  it.each([
    ['', 'Name at least one channel'],
    ['Die 1', 'is not a channel: write it as'],
    ['Die 1: chip °C', '"chip" of Die 1 is not a role'],
    ['Die 1: sensor', 'Die 1 needs its unit'],
    ['Die 1: sensor furlong', '"furlong" of Die 1 is not a known unit'],
    ['Die 1: sensor °C = OUTP ON', 'is not a query'],
    ['A: sensor °C; A: sensor °C', 'Two channels are called "A"'],
    [Array.from({ length: 65 }, (_, i) => `C${i}: sensor °C`).join(';'), 'up to 64 channels'],
  ])('%s: refused in a sentence', (text, says) => {
    const read = readChannelMap(text);
    expect('problem' in read && read.problem).toContain(says);
  });
});

describe('addresses', () => {
  it.each([
    ['127.0.0.1:5025', { kind: 'scpi', host: '127.0.0.1', port: 5025 }],
    ['[::1]:5025', { kind: 'scpi', host: '::1', port: 5025 }],
    ['meter-2.lab:111', { kind: 'scpi', host: 'meter-2.lab', port: 111 }],
    ['file: bench log (2).csv', { kind: 'file', file: 'bench log (2).csv' }],
    [' push ', { kind: 'push' }],
  ])('%s', (text, want) => expect(readAddress(text)).toEqual(want));
  it.each(['file:../secret', 'file:/etc/passwd', 'file:', '127.0.0.1', '127.0.0.1:0', '127.0.0.1:70000', 'http://x:1', ''])(
    '"%s" is none',
    (text) => expect(readAddress(text)).toHaveProperty('problem'),
  );
});
