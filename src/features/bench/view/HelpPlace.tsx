import { type ReactNode, useState } from 'react';
import { FINDING_HELP } from '#features/bench/model/findingHelp';
import { HEADINGS } from '#features/bench/model/headings';
import { METHODS } from '#features/bench/model/methods';
import { findingName } from '#ui/FindingList.tsx';
import { TextBox } from '#ui/Form.tsx';
import { GLOSSARY, type Term, type TermKey } from '#ui/glossary';
import { SHORTCUTS } from './shortcuts';

/** An entry of the help: its name, what it says, and the address it is linked by. */
interface Entry {
  id?: string;
  name: string;
  lines: string[];
  note?: string;
}

const PARTS: { id: string; title: string; entries: Entry[] }[] = [
  {
    id: 'terms',
    title: 'Terms',
    entries: (Object.entries(GLOSSARY) as [TermKey, Term][]).map(([id, t]) => ({
      ...{ id, name: t.name, lines: [t.line, t.more] },
      note: t.source && `Source: ${t.source}`,
    })),
  },
  {
    id: 'pages',
    title: 'Parts of plan, results and run',
    entries: HEADINGS.map((h) => ({ name: h.heading.replace('{}', '…'), lines: [h.line] })),
  },
  {
    id: 'methods',
    title: 'Methods',
    entries: METHODS.map((m) => ({ name: m.name, lines: [m.formula, m.when], note: `Source: ${m.source}` })),
  },
  {
    id: 'findings',
    title: 'Findings',
    entries: Object.entries(FINDING_HELP).map(([code, f]) => ({
      id: `finding-${code}`,
      name: findingName(code),
      lines: [f.cause, f.remedy],
    })),
  },
];

/** Every term, heading, method and finding, to be looked for by its words; the keys of the commonest acts. */
export function HelpPlace() {
  const [text, setText] = useState('');
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const holds = (e: Entry) => words.every((w) => [e.name, ...e.lines].join(' ').toLowerCase().includes(w));
  const parts = PARTS.map((p) => ({ ...p, entries: p.entries.filter(holds) }));
  const found = parts.reduce((n, p) => n + p.entries.length, 0);
  return (
    <>
      <div className="max-w-xl" data-own-keeping>
        <TextBox label="Look for a term" type="search" maxLength={80} value={text} onChange={setText} />
      </div>
      <nav aria-label="Parts of the help" className="mt-3 flex flex-wrap gap-x-4 gap-y-1 text-note">
        {[...PARTS, { id: 'keys', title: 'Keys' }].map((p) => (
          <a key={p.id} href={`#${p.id}`} className="py-1">
            {p.title}
          </a>
        ))}
      </nav>
      <p className="sr-only" role="status">
        {text !== '' && `${found} entries`}
      </p>
      {found === 0 && <p className="mt-4 text-soft">Nothing in the help contains “{text.trim()}”.</p>}
      {parts.map(
        (p) =>
          p.entries.length > 0 && (
            <Part key={p.id} id={p.id} title={p.title}>
              <dl>
                {p.entries.map((e) => (
                  <div key={e.id ?? e.name} id={e.id} className="scroll-mt-4 border-b border-rule py-3 target:bg-band">
                    <dt className="text-name font-semibold">{e.name}</dt>
                    <dd className="max-w-3xl">
                      {e.lines.map((line, i) => (
                        <p key={line} className={i === 0 ? '' : 'text-soft'}>
                          {line}
                        </p>
                      ))}
                      {e.note && <p className="text-note text-soft">{e.note}</p>}
                    </dd>
                  </div>
                ))}
              </dl>
            </Part>
          ),
      )}
      <Part id="keys" title="Keys">
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
      </Part>
    </>
  );
}

const Part = ({ id, title, children }: { id: string; title: string; children: ReactNode }) => (
  <section className="section-rule mt-8" aria-labelledby={id}>
    <h2 id={id} className="scroll-mt-4 text-title font-semibold">
      {title}
    </h2>
    {children}
  </section>
);
