import { describe, expect, it } from 'vitest';
import { readChannelMap } from '#features/shelf/model/channelMap';
import { apart, channelName, channelText, unitOfName } from './arriving';

describe('what an instrument sends', () => {
  it('becomes a channel that the sheet reads back', () => {
    const channel = { name: channelName('bench: probe=1; die'), role: 'sensor', unit: 'degC', query: 'bench/probe1 -> t' } as const;
    expect(channel.name).toBe('bench probe 1 die');
    expect(readChannelMap(channelText(channel))).toEqual({ channels: [channel] });
    expect(readChannelMap(channelText({ name: 'Throttling', role: 'throttle', unit: null, query: '' }))).toEqual({
      channels: [{ name: 'Throttling', role: 'throttle', unit: null, query: null }],
    });
  });
  it.each([
    ['probe1 t', 'degC'],
    ['meter 0 apower', 'W'],
    ['fanRpm', 'rpm'],
    ['probe 1', 'degC'],
    ['all probe uptime', null],
    ['uptime', null],
  ])('%s is in %s', (name, unit) => expect(unitOfName(name)).toBe(unit));
  it('has each name once, however long', () => {
    const long = 'a'.repeat(40);
    const names = apart(['T', 'T', 'T', long, long]);
    expect(new Set(names).size).toBe(5);
    expect(names.every((n) => n.length <= 40)).toBe(true);
  });
});
