import { screwWords, type TeardownStep, teardownMinutes } from '#features/shelf/model/teardown';

interface TeardownTicksProps {
  steps: TeardownStep[];
  /** true where the device is put together again */
  backwards: boolean;
  rigId: number;
  /** places in the list that are done */
  ticks: number[];
  onTick: (ticks: number[]) => void;
}

/** The rig's take-apart list to be ticked off, forwards, or backwards as the checklist for putting it together. */
export function TeardownTicks({ steps, backwards, rigId, ticks, onTick }: TeardownTicksProps) {
  const places = steps.map((_, i) => i);
  const minutes = teardownMinutes(steps);
  return (
    <div className="mt-4">
      <ol className="border-t border-rule">
        {(backwards ? places.reverse() : places).map((i) => {
          const s = steps[i];
          const done = ticks.includes(i);
          return (
            <li key={i} className="border-b border-rule">
              <label className="flex min-h-14 items-center gap-3 py-1">
                <input
                  type="checkbox"
                  className="size-6 shrink-0"
                  checked={done}
                  onChange={() => onTick(done ? ticks.filter((t) => t !== i) : [...ticks, i])}
                />
                {s.photograph && (
                  <img
                    src={`/api/photographs/${s.photograph}?small`}
                    alt=""
                    className="h-14 w-20 shrink-0 border border-rule object-cover"
                    loading="lazy"
                  />
                )}
                <span>
                  <span className="text-name">
                    {i + 1}. {backwards ? 'Back: ' : ''}
                    {s.what}
                  </span>
                  <span className="block text-soft">{[screwWords(s), s.connectors, s.tool].filter((w) => w).join(' · ')}</span>
                </span>
              </label>
            </li>
          );
        })}
      </ol>
      <p className="mt-2 text-note text-soft">
        {steps.length > 0 && `${ticks.length} of ${steps.length} done${minutes === null ? '' : `; the list counts ${minutes} min`}. `}
        <a className="underline" href={`/rigs/${rigId}/teardown`}>
          {steps.length === 0 ? 'Write the take-apart list' : 'Change the list'}
        </a>
      </p>
    </div>
  );
}
