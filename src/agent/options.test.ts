import { describe, expect, it } from 'vitest';
import { HELP, readOptions } from './options';

const read = (line: string) => readOptions(line.split(' ').filter(Boolean));

describe('what the agent is told', () => {
  it('has defaults that do no harm', () => {
    expect(read('--server http://127.0.0.1:4310/')).toMatchObject({
      ...{
        server: 'http://127.0.0.1:4310',
        run: null,
        rate_hz: 1,
        load: null,
        limit_c: 95,
        when_lost: 'stop',
        program: null,
        hold_w: null,
      },
    });
    expect(read('--help')).toBe('help');
    expect(HELP.split('\n').every((l) => l.length <= 120)).toBe(true);
  });

  it('is a load by cores, threads or share, held or not', () => {
    expect(read('--csv a.csv --load 60% --program 300:1200:300')).toMatchObject({
      ...{ load: { per: 'thread', share: 0.6 }, program: { idle_s: 300, load_s: 1200, cool_s: 300 } },
    });
    expect(read('--server http://a:1 --load cores --hold 95.5 --limit none')).toMatchObject({
      load: { per: 'core', share: 1 },
      hold_w: 95.5,
      limit_c: null,
    });
  });

  it.each([
    ['', 'Say where the readings go'],
    ['--server ftp://x', '--server is an address such as http://127.0.0.1:4310'],
    ['--server 127.0.0.1:4310', '--server is an address'],
    ['--csv a --rate 0', '--rate is a number from 0.1 to 20, not "0"'],
    ['--csv a --rate 20.1', '--rate is a number from 0.1 to 20'],
    ['--csv a --load 0%', '--load is cores, threads or a share such as 60%'],
    ['--csv a --load 101%', '--load is cores'],
    ['--csv a --load 60', '--load is cores'],
    ['--csv a --program 1:0:1 --load cores', '--program is seconds'],
    ['--csv a --program 1:2 --load cores', '--program is seconds'],
    ['--csv a --program 1:2:3', '--program needs --load'],
    ['--csv a --hold 90', '--hold needs --load'],
    ['--csv a --load cores --hold 90 --rate 0.4', '--hold needs 0.5 readings a second'],
    ['--csv a --limit 200', '--limit is a number from 30 to 150'],
    ['--csv a --run 1', '--run needs --server'],
    ['--server http://a:1 --run 1.5', '--run is a whole number'],
    ['--csv a --when-lost maybe', '--when-lost is stop, go-on, not "maybe"'],
    ['--csv a --mix gpu', '--mix is all, integer, float, memory'],
    ['--csv a --tail b --load cores', 'With --tail no temperature of this machine is watched'],
    ['--csv a --frob', "Unknown option '--frob'. See --help."],
  ])('"%s" is refused', (line, words) => {
    expect(() => read(line)).toThrow(words);
  });
});
