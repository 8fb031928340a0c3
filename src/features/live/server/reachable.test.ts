import { afterEach, describe, expect, it, vi } from 'vitest';
import { reachable } from './reachable';

afterEach(() => {
  vi.unstubAllEnvs();
});

describe('where instruments are reached', () => {
  it.each([
    ['127.0.0.1', true],
    ['::1', true],
    ['localhost', true],
    ['10.255.255.255', true],
    ['11.0.0.0', false],
    ['172.15.255.255', false],
    ['172.16.0.0', true],
    ['172.31.255.255', true],
    ['172.32.0.0', false],
    ['192.168.0.7', true],
    ['192.169.0.7', false],
    ['169.254.169.254', true],
    ['fd12::1', true],
    ['fe80::1', true],
    ['2001:db8::1', false],
    ['::ffff:203.0.113.9', false],
    ['0.0.0.0', false],
    ['203.0.113.9', false],
  ])('%s: %s', async (host, isReached) => expect('address' in (await reachable(host, 5025))).toBe(isReached));

  it('is also a network that is named, and no other', async () => {
    vi.stubEnv('WARM_GAUGE_INSTRUMENTS', '203.0.113.0/28, 2001:db8::/32');
    expect(await reachable('203.0.113.15', 5025)).toEqual({ address: '203.0.113.15' });
    expect(await reachable('2001:db8::1', 5025)).toEqual({ address: '2001:db8::1' });
    expect(await reachable('203.0.113.16', 5025)).toEqual({
      problem: expect.stringContaining('neither this machine nor a private network'),
    });
  });

  it('is never a port of the application or of its store on this machine, and may be the same on another', async () => {
    vi.stubEnv('PORT', '4310');
    vi.stubEnv('DATABASE_URL', 'postgres://me:a@127.0.0.1:5433,10.0.0.2:5434/lab');
    vi.stubEnv('DATABASE_READ_URL', 'postgres://me@one/lab');
    for (const port of [4310, 5433, 5434, 5432])
      expect(await reachable('127.0.0.2', port)).toEqual({ problem: expect.stringContaining('of Warm Gauge itself or of its store') });
    expect(await reachable('127.0.0.1', 5435)).toHaveProperty('address');
    expect(await reachable('10.0.0.9', 5433)).toHaveProperty('address');
  });

  it('is nowhere where the name is not known', async () => {
    expect(await reachable('no-such-meter.invalid', 5025)).toEqual({ problem: 'no-such-meter.invalid is not known on this network.' });
  });
});
