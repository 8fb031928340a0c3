import { STEP_ENDS, type StepEnd } from '#core/stability/ladder';
import { isSameStep, withSteps } from '#features/run/model/climb';
import { type TypedStep, textProblem } from '#features/run/model/typedRun';
import type { LadderStep } from '#features/study/model/loads';
import { Options, TextBox } from '#ui/Form.tsx';

/** A step in words, such as "2150 MHz at 0.95 V". */
export const stepWords = ({ clock_mhz, voltage_v }: LadderStep): string =>
  `${clock_mhz} MHz${voltage_v == null ? '' : ` at ${voltage_v} V`}`;

/** All steps of a plan and of a climb, by voltage and clock. */
export const allSteps = (planned: LadderStep[], tried: TypedStep[]): LadderStep[] => [
  ...planned,
  ...tried.filter((t) => !planned.some((p) => isSameStep(p, t))).map(({ clock_mhz, voltage_v }) => ({ clock_mhz, voltage_v })),
];

interface LadderFieldsProps {
  planned: LadderStep[];
  tried: TypedStep[];
  onTried: (tried: TypedStep[]) => void;
}

/** Every step of a ladder with how it ended, its temperature and the time it was held; what is left open was not tried. */
export function LadderFields({ planned, tried, onTried }: LadderFieldsProps) {
  const put = (key: LadderStep, change: Partial<TypedStep>) => {
    const known = tried.find((t) => isSameStep(t, key));
    onTried(withSteps(tried, [{ ...key, end: 'passed', ...known, ...change }]));
  };
  return (
    <fieldset>
      <legend className="font-semibold">Steps of the ladder</legend>
      <ol>
        {allSteps(planned, tried).map((s) => {
          const known = tried.find((t) => isSameStep(t, s));
          const name = stepWords(s);
          return (
            <li key={name} className="flex flex-wrap items-end gap-3 border-b border-rule py-2">
              <span className="figure min-w-40 pb-2 font-semibold">{name}</span>
              <label className="text-note">
                <span className="sr-only">{name} ended</span>
                <select
                  className="field text-base"
                  value={known?.end ?? ''}
                  onChange={(e) =>
                    e.target.value === '' ? onTried(withSteps(tried, [], [s])) : put(s, { end: e.target.value as StepEnd })
                  }
                >
                  <option value="">not tried</option>
                  <Options choices={Object.entries(STEP_ENDS)} />
                </select>
              </label>
              {known && (
                <>
                  <TextBox
                    label="Temperature / °C"
                    aria-label={`Temperature at ${name} / °C`}
                    className="figure"
                    maxLength={60}
                    error={textProblem('mean_c', known.temperature ?? '') ?? undefined}
                    value={known.temperature ?? ''}
                    onChange={(temperature) => put(s, { temperature })}
                  />
                  <TextBox
                    label="Held / s or min:s"
                    aria-label={`${name} held / s or min:s`}
                    className="figure"
                    maxLength={60}
                    error={textProblem('run_time_s', known.held ?? '') ?? undefined}
                    value={known.held ?? ''}
                    onChange={(held) => put(s, { held })}
                  />
                </>
              )}
            </li>
          );
        })}
      </ol>
    </fieldset>
  );
}
