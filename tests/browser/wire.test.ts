import { request } from 'node:http';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(() => app.stop());

interface Answer {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  body: Buffer;
}

/** What comes over the wire, as it comes. */
const ask = (path: string, { method = 'GET', headers = {} }: { method?: string; headers?: Record<string, string> } = {}) =>
  new Promise<Answer>((done, failed) => {
    const asked = request(app.url + path, { method, headers }, (answer) => {
      const parts: Buffer[] = [];
      answer.on('data', (part) => parts.push(part));
      answer.on('end', () => done({ status: answer.statusCode ?? 0, headers: answer.headers, body: Buffer.concat(parts) }));
    });
    asked.on('error', failed);
    asked.end();
  });
const openStudy = (title: string) =>
  fetch(`${app.url}/api/studies`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ title, margin_k: 1 }),
  });

describe('a page on the wire', () => {
  it('is packed as its reader takes it', async () => {
    const plain = await ask('/help');
    expect(plain.headers['content-encoding']).toBeUndefined();
    const unpacked = { br: brotliDecompressSync, gzip: gunzipSync };
    for (const [encoding, unpack] of Object.entries(unpacked)) {
      const packed = await ask('/help', { headers: { 'accept-encoding': `x, ${encoding};q=0.5` } });
      expect(packed.headers).toMatchObject({ 'content-encoding': encoding, vary: 'accept-encoding' });
      expect(packed.body.length).toBeLessThan(plain.body.length / 3);
      expect(unpack(packed.body).equals(plain.body)).toBe(true);
    }
    expect((await ask('/help', { headers: { 'accept-encoding': 'br;q=0' } })).headers['content-encoding']).toBeUndefined();
    const places = await ask('/api/search?q=help', { headers: { 'accept-encoding': 'gzip' } });
    expect(JSON.parse((places.headers['content-encoding'] ? gunzipSync(places.body) : places.body).toString())).toHaveProperty('found');
  });

  it('is not sent again to who has it, until something is written; then it shows that at once', async () => {
    const first = await ask('/studies');
    expect(first.headers['cache-control']).toBe('private, no-cache');
    const known = { headers: { 'if-none-match': String(first.headers.etag) } };
    expect(await ask('/studies', known)).toMatchObject({ status: 304, body: Buffer.alloc(0) });
    for (let i = 1; i <= 5; i++) {
      // somebody reads all the while
      const readers = Array.from({ length: 5 }, () => ask('/studies'));
      const made = await openStudy(`Told at once ${i}`);
      expect(made.status).toBe(201);
      expect((await ask('/studies', known)).body.toString()).toContain(`Told at once ${i}`);
      await Promise.all(readers);
    }
  });

  it('lets no script run that stands in it, whoever put it there', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/help`);
    const policy = (await ask('/help')).headers['content-security-policy'];
    expect(/script-src [^;]*/.exec(String(policy))?.[0]).not.toContain('unsafe');
    await page.evaluate(() => {
      const smuggled = document.createElement('script');
      smuggled.textContent = 'window.smuggled = true';
      document.body.append(smuggled);
      const picture = document.createElement('div');
      picture.innerHTML = '<img src="/nowhere" onerror="window.smuggled = true">';
      document.body.append(picture);
    });
    await page.waitForTimeout(500);
    expect(await page.evaluate(() => 'smuggled' in window)).toBe(false);
    app.forgiveRefused();
  });

  it('is answered to a hundred readers at once', async () => {
    const answers = await Promise.all(Array.from({ length: 100 }, () => ask('/studies')));
    expect(new Set(answers.map((a) => a.status))).toEqual(new Set([200]));
  });
});

describe('what no address takes', () => {
  it.each([
    ['TRACE', '/studies', {}, 405],
    ['POST', '/studies', {}, 405],
    ['DELETE', '/icon.svg', {}, 405],
    ['GET', '/icon.svg', { host: 'elsewhere.example' }, 421],
    ['GET', '/api/search?q=%00', {}, 400],
    ['GET', '/studies?text=%00', {}, 200],
  ])('%s %s with %j is answered with %d', async (method, path, headers, status) => {
    const answer = await ask(path, { method, headers: headers as Record<string, string> });
    expect(answer.status).toBe(status);
    expect(answer.headers['x-content-type-options']).toBe('nosniff');
  });

  it('is no text that a study could have', async () => {
    for (const title of ['a\0b', 'half \ud800']) {
      const refused = await openStudy(title);
      expect(refused.status).toBe(400);
      expect((await refused.json()).error).toMatch(/^A text of the request holds/);
    }
    expect((await (await fetch(`${app.url}/studies`)).text()).includes('half')).toBe(false);
  });
});
