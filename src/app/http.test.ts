import type { APIContext } from 'astro';
import { describe, expect, it } from 'vitest';
import { LogError } from '#core/signal/logs/types';
import { readPhotographForm } from '#features/mount/server/photographForm';
import { readClipForm } from '#features/results/server/clipForm';
import { parseSection } from '#features/shelf/server/parseSection';
import { endpoint, json, parseId, parseSeconds, readJson, readText } from './http';
import { Refusal } from './refusal';

const ADDRESS = 'http://127.0.0.1:4310/';
const post = (body: BodyInit, headers: Record<string, string> = {}) =>
  new Request(ADDRESS, { method: 'POST', body, headers, duplex: 'half' } as RequestInit);

describe('what is in an address', () => {
  it.each(['1', '42', '999999999999999'])('%s is a number of a run', (text) => {
    expect(parseId(text, 'run')).toBe(Number(text));
  });
  it.each([undefined, '', '0', '-1', '1.5', '01', '1e3', ' 1', '1; drop table runs', '9999999999999999'])('%j is none', (text) => {
    expect(() => parseId(text, 'run')).toThrow('is not the number of a run');
  });
  it('may name a time in seconds, or none', () => {
    const at = (query: string) => parseSeconds(new URL(`${ADDRESS}${query}`), 'from');
    expect(at('')).toBeNull();
    expect(at('?from=12.5')).toBe(12.5);
    expect(at('?from=-3')).toBe(-3);
    for (const bad of ['?from=', '?from=soon', '?from=Infinity', '?from=NaN']) expect(() => at(bad)).toThrow('is not a number of seconds');
  });
  it('names a section of the shelf, and nothing of the language', () => {
    expect(parseSection('coolers')).toBe('coolers');
    for (const bad of ['users', 'constructor', '__proto__', '']) expect(() => parseSection(bad)).toThrow('The shelf has no section');
  });
});

describe('what is in a body', () => {
  it('is a JSON object, and anything else is refused in a sentence', async () => {
    expect(await readJson(post('{"a": 1}'))).toEqual({ a: 1 });
    for (const bad of ['[1]', '"a"', 'null', '3']) await expect(readJson(post(bad))).rejects.toThrow('should be a JSON object');
    for (const bad of ['', '{', 'a=1']) await expect(readJson(post(bad))).rejects.toThrow('not valid JSON');
  });
  it('holds nothing that cannot be stored', async () => {
    for (const bad of ['{"a": "b\\u0000c"}', '{"a": {"b\\u0000": 1}}', '{"a": ["\\u0000"]}'])
      await expect(readJson(post(bad))).rejects.toMatchObject({ status: 400, message: expect.stringContaining('NUL character') });
    for (const bad of ['{"a": "\\ud800"}', '{"a": "\\udc00x"}'])
      await expect(readJson(post(bad))).rejects.toThrow('holds half of a character');
    // a backslash and the letters, and a whole character outside the basic plane
    expect(await readJson(post('{"a": "\\\\u0000", "b": "\\ud83d\\ude00"}'))).toEqual({ a: '\\u0000', b: '😀' });
    const nested = (levels: number) => `{"a": ${'['.repeat(levels - 1)}${']'.repeat(levels - 1)}}`;
    expect(Object.keys(await readJson(post(nested(50))))).toEqual(['a']);
    await expect(readJson(post(nested(51)))).rejects.toThrow('nested more than 50 levels deep');
    await expect(readJson(post(nested(50_000)))).rejects.toThrow('nested more than 50 levels deep');
    await expect(readText(post('a\0b'))).rejects.toThrow('NUL character');
  });
  it('is bounded, whether it says its length or not', async () => {
    await expect(readText(post('x'.repeat(101), { 'content-length': '101' }), 100)).rejects.toMatchObject({ status: 413 });
    let given = 0;
    const endless = new ReadableStream({
      pull(control) {
        given++;
        control.enqueue(new TextEncoder().encode('x'.repeat(60)));
      },
    });
    await expect(readText(post(endless), 100)).rejects.toMatchObject({ status: 413 });
    // it was not read on
    expect(given).toBeLessThan(6);
    expect(await readText(post('x'.repeat(100)), 100)).toHaveLength(100);
  });
  it('keeps letters that two pieces share', async () => {
    const bytes = new TextEncoder().encode('°C');
    const split = new ReadableStream({
      start(control) {
        control.enqueue(bytes.slice(0, 1));
        control.enqueue(bytes.slice(1));
        control.close();
      },
    });
    expect(await readText(post(split))).toBe('°C');
  });
});

describe('a form with a file', () => {
  const form = (parts: Record<string, string | File>) => {
    const data = new FormData();
    for (const [name, part] of Object.entries(parts)) data.set(name, part);
    return data;
  };
  /** As a browser sends it: with its length. */
  const sent = async (data: FormData, said?: number) => {
    const whole = new Request(ADDRESS, { method: 'POST', body: data });
    const bytes = await whole.arrayBuffer();
    return post(bytes, { 'content-type': whole.headers.get('content-type') ?? '', 'content-length': String(said ?? bytes.byteLength) });
  };
  const clip = new File([Uint8Array.of(1, 2, 3)], 'heron.wav');

  it('gives the file, its name and what is said about it', async () => {
    const got = await readClipForm(await sent(form({ clip, about: '{"rpm": 1200}' })));
    expect(got).toMatchObject({ name: 'heron.wav', about: { rpm: 1200 } });
    expect([...got.clip]).toEqual([1, 2, 3]);
    expect((await readClipForm(await sent(form({ clip })))).about).toEqual({});
  });
  it('is refused without its length, and before it is read where that is too large', async () => {
    await expect(readClipForm(post(form({ clip })))).rejects.toThrow('length of the upload is missing');
    await expect(readClipForm(await sent(form({ clip }), 9e8))).rejects.toMatchObject({
      status: 413,
      message: expect.stringContaining('larger than the 8 MB'),
    });
    await expect(readPhotographForm(await sent(form({}), 9e8))).rejects.toMatchObject({ status: 413 });
  });
  it('is refused where it is none, is cut off, or holds no file', async () => {
    await expect(readClipForm(post('hello', { 'content-length': '5' }))).rejects.toThrow('not a form with a clip');
    await expect(readClipForm(await sent(form({ clip: 'a text' })))).rejects.toThrow('The clip is missing');
    await expect(readClipForm(await sent(form({ clip, about: '{' })))).rejects.toThrow('description of the clip is not valid JSON');
    const whole = await sent(form({ clip }));
    const bytes = new Uint8Array(await whole.arrayBuffer());
    const cut = post(bytes.slice(0, bytes.length - 30), {
      'content-type': whole.headers.get('content-type') ?? '',
      'content-length': String(bytes.length - 30),
    });
    await expect(readClipForm(cut)).rejects.toThrow('may have been cut off. Nothing was stored.');
  });
  it('may hold a photograph with its view, or a view alone', async () => {
    const photo = new File([Uint8Array.of(9)], 'lid.jpg');
    const both = await readPhotographForm(await sent(form({ photo, view: photo, about: '{}' })));
    expect([both.photo?.length, both.view?.length]).toEqual([1, 1]);
    expect((await readPhotographForm(await sent(form({ view: photo })))).photo).toBeNull();
  });
});

describe('an endpoint', () => {
  const address = new URL(`${ADDRESS}?known=3`);
  const context = (id: string) => ({ params: { id }, url: address, request: post('{"who":"AK"}') }) as unknown as APIContext;
  const told = endpoint(
    (ask) => [ask.id('run'), ask.query('known'), ask.json()],
    (id, known, body) => ({ id, known, body }),
    201,
  );
  it('gives its use case what is asked, and sends what that gives back', async () => {
    const response = await told(context('7'));
    expect([response.status, await response.json()]).toEqual([201, { id: 7, known: '3', body: { who: 'AK' } }]);
  });
  it('refuses an address before the use case is asked', async () => {
    expect((await told(context('x'))).status).toBe(404);
  });
});

describe('an answer', () => {
  const given = async (error: unknown) => {
    const response = await endpoint(
      () => [],
      () => Promise.reject(error),
    )({} as APIContext);
    return [response.status, await response.json()];
  };
  it('of what cannot be done is its sentence, with its status and place', async () => {
    expect(await given(new Refusal('Name the rig.', 400, { field: 'rig' }))).toEqual([400, { error: 'Name the rig.', field: 'rig' }]);
    expect((await given(new Refusal('There is no run 4.', 404)))[0]).toBe(404);
    expect(await given(new LogError('a.csv', 'holds no rows.', { row: 3 }))).toEqual([400, { error: 'a.csv, row 3: holds no rows.' }]);
  });
  it('of what went wrong inside tells nothing of it', async () => {
    const [status, body] = await given(new Error('relation "secrets" does not exist'));
    expect(status).toBe(500);
    expect(JSON.stringify(body)).not.toContain('secrets');
  });
  it('of a lost store says that nothing was saved', async () => {
    const [status, body] = await given(Object.assign(new Error('connect ECONNREFUSED'), { code: 'ECONNREFUSED' }));
    expect(status).toBe(503);
    expect(body).toMatchObject({ store_gone: true });
  });
  it('is not kept by the browser', () => {
    expect(json({}).headers.get('cache-control')).toBe('no-store');
    expect(json({}, 201).status).toBe(201);
  });
});
