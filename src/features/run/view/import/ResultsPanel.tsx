import { describeResults } from '../describeResults';
import type { PreviewResults } from './preview.worker';

interface ResultsPanelProps {
  results: PreviewResults[];
  comparable: boolean;
  onComparable: (comparable: boolean) => void;
}

/** What results files of benchmark programs say, and whether their scores may be compared. */
export function ResultsPanel({ results, comparable, onComparable }: ResultsPanelProps) {
  if (results.length === 0) return null;
  return (
    <section aria-labelledby="results">
      <h3 id="results" className="text-name font-semibold">
        Results of a program
      </h3>
      <ul>
        {results.map((r) => (
          <li key={r.name} className={`border-b border-rule py-1.5 ${r.problem ? 'font-semibold text-ember' : ''}`} role={r.problem ? 'alert' : undefined}>
            {r.problem ?? `${r.name}: ${r.figures ? describeResults(r.figures) : ''}`}
          </li>
        ))}
      </ul>
      <label className="mt-1 flex min-h-8 items-center gap-2">
        <input type="checkbox" checked={!comparable} onChange={(e) => onComparable(!e.target.checked)} />
        Another load ran beside the program, so its score is not comparable
      </label>
    </section>
  );
}
