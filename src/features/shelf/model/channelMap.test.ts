import { describe, expect, it } from 'vitest';
import { channelProblem, readChannelMap } from './channelMap';
import type { SourceKind } from './sourceAddress';

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
    ['A: sensor °C; A: sensor °C', 'Two channels are called "A"'],
    [Array.from({ length: 65 }, (_, i) => `C${i}: sensor °C`).join(';'), 'up to 64 channels'],
  ])('%s: refused in a sentence', (text, says) => {
    const read = readChannelMap(text);
    expect('problem' in read && read.problem).toContain(says);
  });
});

describe('what gives a channel its value', () => {
  const problem = (kind: SourceKind, text: string) => {
    const read = readChannelMap(text);
    return 'problem' in read ? read.problem : channelProblem(kind, read.channels);
  };
  it.each<[SourceKind, string]>([
    ['scpi', 'Die: sensor °C = MEAS:TEMP? (@101)'],
    ['mqtt', 'Die: sensor °C = bench/probe 1 -> data.t; Room: ambient °C = bench/room'],
    ['modbus', 'Power: power W = holding 12 float32 swapped x 0.1'],
    ['http', 'Die: sensor °C = sensors.0.value'],
    ['serial', 'Die: sensor °C = T1={}; Room: ambient °C = {2}'],
    ['serial', 'Die: sensor °C = MEAS:TEMP?; Room: ambient °C = ROOM? -> R={}'],
    ['push', 'Die: sensor °C'],
  ])('%s: %s', (kind, text) => expect(problem(kind, text)).toBeNull());
  it.each<[SourceKind, string, string]>([
    ['scpi', 'Die: sensor °C', 'Die needs what gives its value, such as "= MEAS:TEMP? (@101)".'],
    ['scpi', 'Die: sensor °C = OUTP ON', 'a query contains a question mark'],
    ['mqtt', 'Die: sensor °C = bench/+/t', 'is not a topic'],
    ['mqtt', 'Die: sensor °C = bench -> a..b', 'is not a place in JSON'],
    ['modbus', 'Power: power W = coil 12 float32', 'is not a register'],
    ['modbus', 'Power: power W = input 70000 int16', 'is not a register'],
    ['modbus', 'Power: power W = input 1 int16 x 0', 'The factor'],
    ['http', 'Die: sensor °C', 'such as "= sensors.0.value"'],
    ['serial', 'Die: sensor °C = T1', 'does not say where the figure stands'],
    ['serial', 'Die: sensor °C = {0}', 'does not say where the figure stands'],
    ['serial', 'Die: sensor °C = TEMP?; Room: ambient °C = R={}', 'either asked for each of its channels or listened to'],
    ['push', 'Die: sensor °C = TEMP?', 'is asked of nobody'],
  ])('%s: %s is refused in a sentence', (kind, text, says) => expect(problem(kind, text)).toContain(says));
});
