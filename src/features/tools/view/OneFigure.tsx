import { useState } from 'react';
import { keepUnits, plural, write } from '#core/text/words';
import { calibrateStack, type Stack, type StackLayer, withLayer } from '#core/thermal/stack/stack';
import { openQuestions } from '#features/tools/model/studyStack';
import type { StackOfStudy } from '#features/tools/server/studyStack';
import { numberWithin, Quiet, TextBox } from '#ui/Form.tsx';

/** A stack of a study, filled in one figure at a time: what is not known stays assumed, and the sink takes what is left of the whole. */
export function OneFigure({ start, stack, onStack }: { start: StackOfStudy; stack: Stack; onStack: (stack: Stack) => void }) {
  const [told, setTold] = useState(start.known);
  const [passed, setPassed] = useState<string[]>([]);
  const [text, setText] = useState('');
  const key = (q: { layer: string; field: { key: string } }) => `${q.layer} ${q.field.key}`;
  const open = openQuestions(stack, told);
  const asked = open.filter((q) => !passed.includes(key(q)));
  const [question] = asked;
  const layer = question && stack.layers.find((l) => l.key === question.layer);
  const value = question ? numberWithin(text, question.field.min, question.field.max) : null;
  const problem = text.trim() !== '' && value === null ? `A number from ${question?.field.min} to ${question?.field.max}.` : undefined;
  const answer = () => {
    if (!question || value === null) return;
    const changed = withLayer(stack, question.layer, (l) => ({ ...l, [question.field.key]: value }) as StackLayer);
    const fit = start.fitted ? calibrateStack(changed, 'sink', [{ k_per_w: start.fitted.k_per_w, se: 0 }]) : null;
    onStack(fit?.ok ? fit.stack : changed);
    setTold([...told, key(question)]);
    setText('');
  };
  return (
    <section className="mt-4 border-l-4 border-ink pl-4" aria-label="One figure at a time">
      <p>
        {keepUnits(
          start.fitted
            ? `${start.specimen} of ${start.study.title}: ${write(start.fitted.k_per_w, 3)} K/W in all over ${plural(start.fitted.mounts, 'mount')}; the sink takes what the other layers leave.`
            : `${start.specimen} of ${start.study.title}: nothing was measured yet that the whole could be fitted to.`,
        )}
      </p>
      {question && layer ? (
        <form
          className="mt-2 flex flex-wrap items-end gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            answer();
          }}
        >
          <div className="w-full max-w-sm">
            <TextBox
              label={question.words}
              hint={`${question.field.label}; ${Number((layer[question.field.key as keyof StackLayer] as unknown as number).toPrecision(4))} is assumed`}
              error={problem}
              className="figure"
              inputMode="decimal"
              value={text}
              onChange={setText}
            />
          </div>
          <button type="submit" className="act" disabled={value === null}>
            Include
          </button>
          <Quiet
            onClick={() => {
              setPassed([...passed, key(question)]);
              setText('');
            }}
          >
            Not known
          </Quiet>
          <span className="text-soft">{plural(asked.length, 'figure')} still assumed and not asked</span>
        </form>
      ) : (
        <p className="mt-2 font-semibold">
          {open.length === 0 ? 'Every figure is known.' : `${plural(open.length, 'figure')} stay as they are assumed; change them below.`}
        </p>
      )}
    </section>
  );
}
