import { useState } from 'react';
import type { OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair } from '#core/compare/types';
import type { RestCheck } from '#features/results/model/recommendation';
import type { RecommendationView } from '#features/results/server/recommend';
import { Quiet, TextArea, TextBox, TextButton, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';

interface RecommendationsProps {
  studyId: number;
  initial: RecommendationView[];
  /** the verdicts at hand, which words can rest on */
  pairs: AnalysedPair[];
  outcome: OutcomeKey;
  load: string | null;
}

const restKey = (r: { outcome: string; a: string; b: string }) => `${r.outcome}\n${[r.a, r.b].sort().join('\n')}`;

/** The tester's own words per kind of reader. Each rests on verdicts; where one of them changes, the words are flagged. */
export function Recommendations({ studyId, initial, pairs, outcome, load }: RecommendationsProps) {
  const [list, setList] = useState(initial);
  const [open, setOpen] = useState<number | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const { seen, refused } = useSeen(list.map(({ reader, words }) => ({ reader, words })));
  const store = async (
    next: { reader: string; words: string; rests: { outcome: string; load: string | null; a: string; b: string }[] }[],
  ) => {
    const body = { list: next, seen: seen() };
    const stored = await sendJson<RecommendationView[]>('PUT', `/api/studies/${studyId}/recommendations`, body, setTold, refused);
    if (stored) {
      setList(stored);
      setOpen(null);
    }
  };
  const asStored = list.map(({ reader, words, checks }) => ({
    reader,
    words,
    rests: checks.map(({ outcome: o, load: l, a, b }) => ({ outcome: o, load: l, a, b })),
  }));
  return (
    <div>
      {list.length === 0 && open === null && (
        <p className="max-w-2xl text-soft">
          Write what each kind of reader should choose, and which verdicts support it. If the data change one of them, the recommendation is
          flagged.
        </p>
      )}
      <ul>
        {list.map((r, i) => (
          <li key={r.reader} className="border-b border-rule py-2">
            <div className="flex flex-wrap items-baseline gap-3">
              <span className="font-semibold">{r.reader}</span>
              <TextButton className="text-note" onClick={() => setOpen(i)}>
                Reword
              </TextButton>
              <TextButton className="text-note" onClick={() => void store(asStored.filter((_, j) => j !== i))}>
                Delete
              </TextButton>
            </div>
            <p className="max-w-3xl whitespace-pre-line">{r.words}</p>
            {r.checks
              .filter((c) => c.state !== 'stands')
              .map((c) => (
                <Flag key={restKey(c)} check={c} />
              ))}
            {open === i && (
              <WordsForm
                initial={asStored[i]}
                pairs={pairs}
                outcome={outcome}
                load={load}
                onStore={(next) => void store(asStored.map((s, j) => (j === i ? next : s)))}
                onBack={() => setOpen(null)}
              />
            )}
          </li>
        ))}
      </ul>
      {open === -1 ? (
        <WordsForm
          initial={{ reader: '', words: '', rests: [] }}
          pairs={pairs}
          outcome={outcome}
          load={load}
          onStore={(next) => void store([...asStored, next])}
          onBack={() => setOpen(null)}
        />
      ) : (
        <Quiet className="mt-3" onClick={() => setOpen(-1)}>
          Add recommendation …
        </Quiet>
      )}
      {told && (
        <p role="alert" className="mt-2 font-semibold text-ember">
          {told}
        </p>
      )}
    </div>
  );
}

function Flag({ check }: { check: RestCheck }) {
  if (check.state === 'moved') return <p className="mt-1 text-note text-soft">Its figures moved, the verdict stands: {check.now}</p>;
  return (
    <p role="status" className="mt-1 max-w-3xl border-l-4 border-ember pl-3">
      <strong className="text-ember">The verdict behind this has changed.</strong> It was: {check.sentence}{' '}
      {check.now ? `Now: ${check.now}` : 'The pair is no longer judged.'} Reword it to keep it in step.
    </p>
  );
}

interface Words {
  reader: string;
  words: string;
  rests: { outcome: string; load: string | null; a: string; b: string }[];
}

function WordsForm({
  initial,
  pairs,
  outcome,
  load,
  onStore,
  onBack,
}: {
  initial: Words;
  pairs: AnalysedPair[];
  outcome: OutcomeKey;
  load: string | null;
  onStore: (w: Words) => void;
  onBack: () => void;
}) {
  const [reader, setReader] = useState(initial.reader);
  const [words, setWords] = useState(initial.words);
  const [rests, setRests] = useState(initial.rests);
  const isOn = (p: AnalysedPair) => rests.some((r) => restKey(r) === restKey({ outcome, ...p }));
  const toggle = (p: AnalysedPair) =>
    setRests(isOn(p) ? rests.filter((r) => restKey(r) !== restKey({ outcome, ...p })) : [...rests, { outcome, load, a: p.a, b: p.b }]);
  return (
    <form
      className="mt-3 flex max-w-3xl flex-col gap-3 border-l-4 border-ember pl-4"
      onSubmit={(e) => {
        e.preventDefault();
        onStore({ reader, words, rests });
      }}
    >
      <TextBox
        label="Reader"
        hint="Such as: wants it coolest, remounts often, pays for it."
        value={reader}
        maxLength={80}
        onChange={setReader}
      />
      <TextArea label="What to choose" rows={3} value={words} maxLength={1000} onChange={setWords} />
      <fieldset>
        <legend className="font-semibold">Rests on</legend>
        <div className="max-h-64 overflow-y-auto">
          {pairs.map((p) => (
            <Tick key={p.a + p.b} words={p.sentence} className="items-baseline py-1" checked={isOn(p)} onChange={() => toggle(p)} />
          ))}
        </div>
      </fieldset>
      <div className="flex gap-3">
        <button type="submit" className="act" disabled={reader.trim() === '' || words.trim() === ''}>
          Save recommendation
        </button>
        <Quiet onClick={onBack}>Back</Quiet>
      </div>
    </form>
  );
}
