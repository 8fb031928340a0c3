import { useState } from 'react';
import { mountsFor, namesOf, TEMPLATE_KEYS, TEMPLATES, type TemplateKey, templateTitle } from '#features/study/model/templates';
import { Alert, numberWithin, Quiet, TextArea, TextBox, TextButton } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { StudyForm } from './StudyForm.tsx';

interface StartStudyProps {
  own: { id: number; title: string }[];
  /** titles that are taken */
  titles: string[];
  /** smallest difference that matters to new studies of the lab, K */
  margin_k: number;
}

/** Starting a study: from a question, from a template of one's own, or from nothing. */
export function StartStudy({ own, titles, margin_k }: StartStudyProps) {
  const [key, setKey] = useState<TemplateKey | null>(null);
  if (key) return <TemplateForm key={key} template={key} titles={titles} margin_k={margin_k} onBack={() => setKey(null)} />;
  return (
    <div className="grid gap-10 lg:grid-cols-[minmax(0,1fr)_340px]">
      <section aria-labelledby="questions">
        <h2 id="questions" className="text-title font-semibold">
          What do you want to know?
        </h2>
        <ul className="mt-2">
          {TEMPLATE_KEYS.map((k) => (
            <li key={k} className="border-b border-rule">
              <button type="button" className="block w-full px-2 py-3 text-left hover:bg-band" onClick={() => setKey(k)}>
                <span className="block text-name font-semibold">{TEMPLATES[k].question}</span>
                <span className="text-soft">{TEMPLATES[k].about}</span>
              </button>
            </li>
          ))}
        </ul>
        {own.length > 0 && <OwnTemplates own={own} titles={titles} />}
      </section>
      <section className="section-rule" aria-labelledby="new-study">
        <h2 id="new-study" className="mb-3 text-name font-semibold">
          Or start with an empty plan
        </h2>
        <StudyForm margin_k={margin_k} />
      </section>
    </div>
  );
}

/** Templates of one's own: a study from one, or one deleted. */
function OwnTemplates({ own, titles }: Omit<StartStudyProps, 'margin_k'>) {
  const [told, setTold] = useState<string | null>(null);
  const open = async (id: number, title: string) => {
    let free = title;
    for (let n = 2; titles.includes(free); n++) free = `${title.slice(0, 110)} (${n})`;
    const made = await sendJson<{ id: number }>('POST', `/api/templates/${id}`, { title: free }, setTold);
    if (made) window.location.assign(`/studies/${made.id}/plan`);
  };
  const remove = async (id: number, title: string) => {
    const url = `/api/templates/${id}`;
    if (!(await sendJson('PUT', url, { deleted: true }, setTold))) return;
    offerUndo({ words: `The template ${title} is deleted.`, ...{ method: 'PUT', url, body: { deleted: false } } });
    window.location.reload();
  };
  return (
    <>
      <h2 className="mt-8 text-title font-semibold">Your own templates</h2>
      <ul className="mt-2">
        {own.map((t) => (
          <li key={t.id} className="flex items-center gap-4 border-b border-rule">
            <button
              type="button"
              className="flex-1 px-2 py-3 text-left text-name font-semibold hover:bg-band"
              onClick={() => void open(t.id, t.title)}
            >
              {t.title}
            </button>
            <TextButton
              className="min-h-9 text-note"
              aria-label={`Delete the template ${t.title}`}
              onClick={() => void remove(t.id, t.title)}
            >
              Delete
            </TextButton>
          </li>
        ))}
      </ul>
      <Alert>{told}</Alert>
    </>
  );
}

interface TemplateFormProps extends Pick<StartStudyProps, 'titles' | 'margin_k'> {
  template: TemplateKey;
  onBack: () => void;
}

/** The three things a question asks, and what is taken where nothing was asked. */
function TemplateForm({ template: key, titles, margin_k, onBack }: TemplateFormProps) {
  const template = TEMPLATES[key];
  // what the lab set in K goes before what the question proposes
  const matters = margin_k !== 1 && template.margin.label.endsWith('/ K') ? margin_k : template.margin.given;
  const [text, setText] = useState(template.names.given.join('\n'));
  const [margin, setMargin] = useState(String(matters));
  const [days, setDays] = useState(template.days.given === null ? '' : String(template.days.given));
  const [clocks, setClocks] = useState({ from: '2000', to: '2500', step: '50' });
  const [ownTitle, setTitle] = useState<string | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const names = namesOf(text);
  const proposed = templateTitle(key, names);
  const title = ownTitle ?? (titles.includes(proposed) ? `${proposed} (2)` : proposed);
  const steps = {
    from: numberWithin(clocks.from, 1, 100_000),
    to: numberWithin(clocks.to, 1, 100_000),
    step: numberWithin(clocks.step, 1, 10_000),
  };
  const hasClocks = steps.from !== null && steps.to !== null && steps.step !== null && steps.to >= steps.from;
  const answers = {
    names,
    margin: numberWithin(margin, 0.01, 10_000) ?? template.margin.given,
    days: days.trim() === '' ? null : numberWithin(days, 1, 1000),
    clocks: hasClocks ? (steps as { from: number; to: number; step: number }) : null,
  };
  const wait =
    names.length < (key === 'repair' || key === 'change' ? 2 : 1)
      ? `Name ${key === 'repair' || key === 'change' ? 'two of them' : 'at least one'}.`
      : numberWithin(margin, 0.01, 10_000) === null
        ? 'The smallest difference is a number above 0.'
        : days.trim() !== '' && (answers.days === null || !Number.isInteger(answers.days))
          ? 'The days are a whole number, or empty.'
          : key === 'clock' && !hasClocks
            ? 'The clocks are three numbers, the highest not below the lowest.'
            : title.trim() === ''
              ? 'Give the study a title.'
              : null;
  const start = async () => {
    setBusy(true);
    const body = { template: key, title: title.trim(), names: names.map((name) => ({ name })), margin: answers.margin, days: answers.days };
    const made = await sendJson<{ id: number }>(
      'POST',
      '/api/templates',
      key === 'clock' ? { ...body, clocks: answers.clocks } : body,
      setTold,
    );
    setBusy(false);
    if (made) window.location.assign(`/studies/${made.id}/plan`);
  };
  return (
    <form
      aria-label={template.question}
      className="grid gap-10 lg:grid-cols-[minmax(0,1fr)_420px]"
      onSubmit={(e) => {
        e.preventDefault();
        if (wait === null) void start();
      }}
    >
      <div className="flex max-w-2xl flex-col gap-4">
        <h2 className="text-title font-semibold">{template.question}</h2>
        <TextArea label={template.names.label} hint={template.names.hint} rows={5} maxLength={3000} value={text} onChange={setText} />
        <div className="grid gap-4 sm:grid-cols-2">
          <TextBox label={template.margin.label} inputMode="decimal" className="figure" value={margin} onChange={setMargin} />
          <TextBox
            label={template.days.label}
            hint={template.days.hint}
            inputMode="numeric"
            className="figure"
            value={days}
            onChange={setDays}
          />
        </div>
        {key === 'clock' && (
          <div className="grid gap-4 sm:grid-cols-3">
            {(['from', 'to', 'step'] as const).map((part) => (
              <TextBox
                key={part}
                label={{ from: 'Lowest clock / MHz', to: 'Highest clock / MHz', step: 'Step / MHz' }[part]}
                inputMode="numeric"
                className="figure"
                value={clocks[part]}
                onChange={(v) => setClocks({ ...clocks, [part]: v })}
              />
            ))}
          </div>
        )}
        <TextBox label="Title" maxLength={120} value={title} onChange={setTitle} />
        <div className="flex flex-wrap items-center gap-3">
          <button type="submit" className="act" disabled={busy || wait !== null}>
            Start the study
          </button>
          <Quiet onClick={onBack}>Other questions</Quiet>
          {wait && <span className="text-soft">{wait}</span>}
        </div>
        <Alert>{told}</Alert>
      </div>
      <section className="section-rule" aria-labelledby="taken">
        <h3 id="taken" className="text-name font-semibold">
          Taken so; all of it can be changed in the plan
        </h3>
        <ul aria-live="polite">
          {template.defaults({ ...answers, names: names.length > 0 ? names : ['', ''] }).map((d) => (
            <li key={d} className="border-b border-rule py-2">
              {d}
            </li>
          ))}
        </ul>
        {answers.days !== null && key !== 'ageing' && mountsFor(answers) < 5 && (
          <p className="mt-2 text-soft">As many mounts as fit into the days.</p>
        )}
      </section>
    </form>
  );
}
