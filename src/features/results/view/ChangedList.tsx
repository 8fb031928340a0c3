import type { ChangedVerdict } from '#features/results/model/compare';

/** Sentences that read otherwise, before and after. */
export function ChangedList({ changed, none }: { changed: ChangedVerdict[]; none: string }) {
  if (changed.length === 0) return <p className="mt-1">{none}</p>;
  return (
    <ul>
      {changed.map((c) => (
        <li key={`${c.a} ${c.b}`} className="border-b border-rule py-2">
          {c.before ? <del className="block text-soft decoration-1">{c.before}</del> : <span className="block text-soft">Not judged before.</span>}
          {c.after ? <span className="block">{c.after}</span> : <span className="block">Not judged: the pair is not compared.</span>}
        </li>
      ))}
    </ul>
  );
}
