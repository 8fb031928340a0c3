import { useEffect, useState } from 'react';
import { keepUnits } from '#core/text/words';
import type { ShownDifference } from '#features/ranking/model/rankingAnswer';
import { partSentence } from '#features/ranking/model/readersPart';
import { Alert, ChoiceBox } from '#ui/Form.tsx';
import { send } from '#ui/send';
import type { RankedPlace } from './rankedPlace';

/** The expected difference of two materials on a part, in a sentence. */
export function PartAnswer({
  place: { answer },
  part,
  cautions,
  address,
}: {
  place: RankedPlace;
  part: { power_w: number; area_mm2: number };
  cautions: string[];
  address: string;
}) {
  const { materials, names, reference } = answer;
  const order = materials.map((m) => m.material);
  const [a, setA] = useState(order.find((m) => m !== reference) ?? reference);
  const [b, setB] = useState(reference);
  const [fetched, setFetched] = useState<ShownDifference | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  // against the reference the page knows; any other pair is asked for
  const known = b === reference ? materials.find((m) => m.material === a) : undefined;
  useEffect(() => {
    setProblem(null);
    if (known || a === b) return;
    const control = new AbortController();
    const query = new URLSearchParams(address);
    query.set('a', a);
    query.set('b', b);
    setFetched(null);
    void send<ShownDifference>(`/api/ranking/difference?${query}`, { signal: control.signal }, setProblem).then(
      (told) => !control.signal.aborted && setFetched(told),
    );
    return () => control.abort();
  }, [a, b, known, address]);
  const told = known ?? (fetched && fetched.a === a && fetched.b === b ? fetched : null);
  const choices = order.map((m) => [m, names[m] ?? m] as const);
  return (
    <div className="mt-3 border-l-4 border-ink pl-4">
      <p role="status" className="max-w-4xl text-title leading-tight font-semibold">
        {a === b
          ? 'Choose two different materials.'
          : told
            ? keepUnits(partSentence(part, told, names[a] ?? a, names[b] ?? b))
            : problem === null && 'Comparing …'}
      </p>
      <div className="mt-2 flex max-w-xl flex-wrap gap-4">
        <div className="min-w-44 flex-1">
          <ChoiceBox label="Material" value={a} choices={choices} onChange={setA} />
        </div>
        <div className="min-w-44 flex-1">
          <ChoiceBox label="compared with" value={b} choices={choices} onChange={setB} />
        </div>
      </div>
      {cautions.map((c) => (
        <p key={c} className="mt-1 max-w-3xl text-soft">
          {c}
        </p>
      ))}
      <Alert>{problem}</Alert>
    </div>
  );
}
