/**
 * What a person typed and did not store yet is kept in the browser, so that Escape, Back, a reload or a browser that ends lose nothing. It is
 * put back where the same field stands again with the value it had before it was typed into, and forgotten once it was sent and taken, or
 * discarded.
 */

/** A field's text as it was typed, and what stood there before. */
export interface KeptField {
  value: string;
  base: string;
  at: number;
}

type Keepable = HTMLInputElement | HTMLTextAreaElement;

const PREFIX = 'typed:';
/** What nobody came back to is forgotten after this time. */
export const KEPT_MS = 14 * 86_400_000;
const MOST_LENGTH = 20_000;
const MOST_FIELDS = 400;
/** Typed into, but nothing to be stored: what is looked for, and what is chosen of a list. */
const TEXTUAL = ['text', 'number', 'email', 'tel', 'url', 'date', 'time', 'datetime-local', ''];

/** Fields that are kept: those a person types into, but for search fields, secrets and those that keep themselves. */
export const isKeepable = (e: EventTarget | null): e is Keepable =>
  (e instanceof HTMLTextAreaElement || (e instanceof HTMLInputElement && TEXTUAL.includes(e.type))) && !e.closest('[data-own-keeping]');

/** What a field is called where it stands: its page, what it belongs to, and its label; fields of one name are counted. */
export function fieldKey(e: Keepable): string {
  const group = e.closest('form,fieldset,section,[role=dialog],[role=region]');
  const heading = group?.querySelector('h1,h2,h3,legend')?.textContent ?? '';
  const key = [pagePath(), group?.getAttribute('aria-label') ?? heading, labelOf(e)].join('|');
  const twins = [...document.querySelectorAll<Keepable>('input,textarea')].filter((o) => isKeepable(o) && labelOf(o) === labelOf(e));
  return `${PREFIX}${key}|${twins.indexOf(e)}`;
}

/** The page a field is on; a tool that is asked about a study is another than the tool by itself. */
export const pagePath = (): string =>
  window.location.pathname + (window.location.pathname.startsWith('/tools/') ? window.location.search : '');

const labelOf = (e: Keepable): string => (e.getAttribute('aria-label') ?? e.labels?.[0]?.textContent ?? e.name).trim();

/** Everything that is kept, by key; what is too old is dropped on the way. */
export function keptFields(store: Storage, now: number): Map<string, KeptField> {
  const kept = new Map<string, KeptField>();
  for (const key of Object.keys(store).filter((k) => k.startsWith(PREFIX))) {
    const field = read(store, key);
    if (field && now - field.at < KEPT_MS) kept.set(key, field);
    else store.removeItem(key);
  }
  return kept;
}

export function read(store: Storage, key: string): KeptField | null {
  try {
    const field = JSON.parse(store.getItem(key) ?? 'null');
    return field && typeof field.value === 'string' && typeof field.base === 'string' ? field : null;
  } catch {
    return null;
  }
}

/** Keeps what stands in a field; a field that holds again what it held before is forgotten. */
export function keep(store: Storage, key: string, field: KeptField): void {
  if (field.value === field.base) {
    store.removeItem(key);
    return;
  }
  if (field.value.length > MOST_LENGTH) return;
  if (store.getItem(key) === null && keptFields(store, field.at).size >= MOST_FIELDS) return;
  try {
    store.setItem(key, JSON.stringify(field));
  } catch {
    // the browser keeps no more; what is typed stays in its field
  }
}

/** A text as it may stand in a request: numbers with a point, and nothing around it. */
const asSent = (text: string): string => text.trim().replace(',', '.');

/** All texts and numbers of what was sent, with how often each stands in it. */
function textsOf(body: unknown, found: Map<string, number> = new Map()): Map<string, number> {
  const count = (text: string) => found.set(text, (found.get(text) ?? 0) + 1);
  if (typeof body === 'string') {
    count(asSent(body));
    // a form carries JSON in its fields
    if (/^[[{]/.test(body)) {
      try {
        textsOf(JSON.parse(body), found);
      } catch {
        // it only looked like it
      }
    }
  } else if (typeof body === 'number') count(String(body));
  else if (body && typeof body === 'object') for (const part of Object.values(body)) textsOf(part, found);
  return found;
}

/**
 * Forgets the fields of a page whose texts were sent and taken. Of fields with one text as many are forgotten as were sent, the last typed
 * first: what was typed before and is still there was refused.
 */
export function forgetSent(store: Storage, path: string, body: unknown, now: number): void {
  const given = body instanceof FormData ? [...body.values()].filter((v) => typeof v === 'string') : body;
  const sent = textsOf(given);
  const own = [...keptFields(store, now)].filter(([key]) => key.startsWith(`${PREFIX}${path}|`)).sort(([, a], [, b]) => b.at - a.at);
  for (const [key, { value }] of own) {
    const plain = asSent(value);
    const text = plain !== '' && Number.isFinite(Number(plain)) && !sent.has(plain) ? String(Number(plain)) : plain;
    const left = sent.get(text) ?? 0;
    if (left === 0) continue;
    sent.set(text, left - 1);
    store.removeItem(key);
  }
}

/** Forgets all that was typed on a page. */
export function discardTyped(store: Storage, path: string, now: number): void {
  for (const key of keptFields(store, now).keys()) if (key.startsWith(`${PREFIX}${path}|`)) store.removeItem(key);
}

/** Writes into a field as a person would, so that whoever listens hears it. */
export function typeInto(e: Keepable, value: string): void {
  // wakes an island that is not alive yet: it takes the next event, not this one
  e.dispatchEvent(new Event('input', { bubbles: true }));
  const owner = e instanceof HTMLTextAreaElement ? HTMLTextAreaElement.prototype : HTMLInputElement.prototype;
  Object.getOwnPropertyDescriptor(owner, 'value')?.set?.call(e, value);
  e.dispatchEvent(new Event('input', { bubbles: true }));
  e.dispatchEvent(new Event('change', { bubbles: true }));
}
