import { useState } from 'react';
import { TextBox } from '#ui/Form.tsx';
import { GLOSSARY, type Term, type TermKey } from '#ui/glossary';
import { SHORTCUTS } from './shortcuts';

/** Every term, to be looked for by its words; the keys of the commonest acts. */
export function HelpPlace() {
  const [text, setText] = useState('');
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const terms = (Object.entries(GLOSSARY) as [TermKey, Term][]).filter(([, t]) =>
    words.every((w) => `${t.name} ${t.line} ${t.more}`.toLowerCase().includes(w)),
  );
  return (
    <>
      <div className="max-w-xl" data-own-keeping>
        <TextBox label="Look for a term" type="search" maxLength={80} value={text} onChange={setText} />
      </div>
      <p className="sr-only" role="status">
        {text !== '' && `${terms.length} terms`}
      </p>
      <section className="section-rule mt-6" aria-labelledby="terms">
        <h2 id="terms" className="text-title font-semibold">
          Terms
        </h2>
        {terms.length === 0 && <p className="mt-2 text-soft">No term holds “{text.trim()}”.</p>}
        <dl>
          {terms.map(([key, t]) => (
            <div key={key} id={key} className="scroll-mt-4 border-b border-rule py-3 target:bg-band">
              <dt className="text-name font-semibold">{t.name}</dt>
              <dd className="max-w-3xl">
                <p>{t.line}</p>
                <p className="text-soft">{t.more}</p>
                {t.source && <p className="text-note text-soft">Source: {t.source}</p>}
              </dd>
            </div>
          ))}
        </dl>
      </section>
      <section className="section-rule mt-8" aria-labelledby="keys">
        <h2 id="keys" className="text-title font-semibold">
          Keys
        </h2>
        <dl className="mt-2 grid max-w-xl grid-cols-[4rem_minmax(0,1fr)] gap-y-1">
          {SHORTCUTS.map((s) => (
            <div key={s.key} className="contents">
              <dt>
                <kbd className="figure border border-rule px-2 py-0.5">{s.key}</kbd>
              </dt>
              <dd>{s.words}</dd>
            </div>
          ))}
        </dl>
      </section>
    </>
  );
}
