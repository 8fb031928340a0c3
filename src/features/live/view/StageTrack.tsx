import type { LiveStage } from '#core/live/types';
import { CYCLE_STAGES, STAGE_WORDS } from './words';

/** The stages of a cycle in a row, with the one that it is in. */
export function StageTrack({ stage, small = false }: { stage: LiveStage; small?: boolean }) {
  const at = stage === 'finished' ? CYCLE_STAGES.length : CYCLE_STAGES.indexOf(stage);
  return (
    <ol className="flex gap-1" aria-label="Stages of this cycle">
      {CYCLE_STAGES.map((s, i) => (
        <li
          key={s}
          aria-current={i === at ? 'step' : undefined}
          className={`min-w-0 flex-1 border-t-4 pt-1 ${i < at ? 'border-ink' : i === at ? 'border-ember' : 'border-rule'}`}
        >
          <span className={`block truncate ${small ? 'text-note' : 'max-sm:text-note'} ${i === at ? 'font-semibold' : 'text-soft'}`}>
            {STAGE_WORDS[s]}
          </span>
        </li>
      ))}
    </ol>
  );
}
