import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import { plural } from '#core/text/words';
import { Quiet } from './Form.tsx';
import { discardTyped, fieldKey, isKeepable, keep, keptFields, pagePath, read, typeInto } from './keptInput';

/** What a field is filled in with: its dialog, its form, or the page. */
const scopeOf = (e: Element): Element => e.closest('[role=dialog]') ?? e.closest('form') ?? document.body;

/** Keeps what is typed on the page until it is stored, puts back what was left, and says so. */
export function KeptBar() {
  const [back, setBack] = useState(0);
  useEffect(() => {
    const store = window.localStorage;
    const bases = new WeakMap<Element, string>();
    // fields that were typed into here, or looked at: each is put back once
    const settled = new WeakSet<Element>();
    // forms, dialogs and the rest of the page where a person has typed by now: what comes up there later is new, such as a further row
    const touched = new WeakSet<Element>();
    let isRestoring = false;
    const focus = (e: FocusEvent) => {
      if (isKeepable(e.target) && !bases.has(e.target)) bases.set(e.target, e.target.value);
    };
    const input = (e: Event) => {
      if (isRestoring || !isKeepable(e.target)) return;
      settled.add(e.target);
      touched.add(scopeOf(e.target));
      const key = fieldKey(e.target);
      const base = read(store, key)?.base ?? bases.get(e.target) ?? '';
      keep(store, key, { value: e.target.value, base, at: Date.now() });
    };
    const restore = () => {
      if (document.querySelector('astro-island[ssr]')) return;
      const kept = keptFields(store, Date.now());
      if (kept.size === 0) return;
      for (const field of document.querySelectorAll('input,textarea')) {
        if (!isKeepable(field) || settled.has(field) || touched.has(scopeOf(field))) continue;
        const key = fieldKey(field);
        const typed = kept.get(key);
        if (!typed) continue;
        if (field.value === typed.value) store.removeItem(key);
        // a field that holds something else is left as it is; it may be filled in a moment later
        if (field.value !== typed.base) continue;
        settled.add(field);
        bases.set(field, field.value);
        isRestoring = true;
        typeInto(field, typed.value);
        isRestoring = false;
        setBack((n) => n + 1);
      }
    };
    let asked = 0;
    let later: ReturnType<typeof setTimeout>[] = [];
    const soon = () => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(restore);
      for (const t of later) clearTimeout(t);
      later = [400, 1500].map((ms) => setTimeout(restore, ms));
    };
    const watch = new MutationObserver(soon);
    watch.observe(document.body, { childList: true, subtree: true, attributes: true, attributeFilter: ['ssr'] });
    document.addEventListener('focusin', focus);
    document.addEventListener('input', input);
    soon();
    // from here on nothing that is typed is missed
    document.documentElement.dataset.keeps = '';
    return () => {
      delete document.documentElement.dataset.keeps;
      watch.disconnect();
      cancelAnimationFrame(asked);
      for (const t of later) clearTimeout(t);
      document.removeEventListener('focusin', focus);
      document.removeEventListener('input', input);
    };
  }, []);
  if (back === 0) return null;
  return (
    <div
      role="status"
      className="pointer-events-none fixed right-4 bottom-4 z-[70] flex max-w-[calc(100vw-2rem)] flex-wrap items-center gap-x-4 gap-y-2 border-2 border-ink bg-leaf px-4 py-2 print:hidden"
    >
      <span>What you typed here before is back in {plural(back, 'field')}. It is not stored yet.</span>
      <Quiet
        className="pointer-events-auto"
        onClick={() => {
          discardTyped(window.localStorage, pagePath(), Date.now());
          window.location.reload();
        }}
      >
        Discard
      </Quiet>
      <button
        type="button"
        className="pointer-events-auto grid size-8 place-items-center hover:bg-band"
        aria-label="Close this message"
        onClick={() => setBack(0)}
      >
        <X size={16} aria-hidden="true" />
      </button>
    </div>
  );
}
