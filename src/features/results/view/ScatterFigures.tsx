import { OUTCOMES } from '#core/compare/outcomes';
import type { Analysis } from '#core/compare/types';
import { write } from '#core/text/words';
import { whyNoRepeats } from '#features/results/model/mixedRuns';
import { Figure } from '#ui/Words.tsx';

/** How much mounts and runs scatter, and within what two of them agree. */
export function ScatterFigures({ analysis }: { analysis: Analysis }) {
  const { scatter } = analysis;
  const { unit, digits } = OUTCOMES[analysis.outcome];
  const untold = whyNoRepeats(analysis) ?? 'not known yet';
  const figures = [
    { name: 'Between mounts', value: scatter.mount_sd, note: 'standard deviation, mounts of one specimen' },
    { name: 'Between runs', value: scatter.run_sd, note: 'standard deviation, runs on one mount' },
    { name: 'Pooled', value: scatter.pooled_sd, note: `standard deviation of mount values, ${scatter.df} degrees of freedom` },
    { name: 'Repeatability limit', value: scatter.repeatability_limit, note: 'two runs on one mount differ by less, 95 %' },
    { name: 'Between-mount limit', value: scatter.mount_limit, note: 'two mounts of one specimen differ by less, 95 %' },
  ];
  return (
    <dl>
      {figures.map((f) => (
        <div key={f.name} className="flex items-baseline justify-between gap-4 border-b border-rule py-2">
          <dt>
            <span className="font-semibold">{f.name}</span>
            <span className="block text-note text-soft">{f.note}</span>
          </dt>
          <dd>
            {f.value === null ? (
              <span className="text-soft">{untold}</span>
            ) : (
              <Figure value={write(f.value, digits + 1)} unit={unit} size="name" />
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}
