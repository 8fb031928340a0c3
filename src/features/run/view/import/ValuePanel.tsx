import type { Reduction } from '#core/signal/reduce/types';
import { write } from '#core/text/words';
import { FindingList } from '#ui/FindingList.tsx';
import { Figure } from '#ui/Words.tsx';
import type { Preview } from './preview.worker';

/** What a run tells where no rise is wanted of it. */
const otherFigures = (r: Reduction): string =>
  [
    ...(r.ladder ? [`${r.ladder.length} steps of the ladder`] : []),
    ...r.times_to.map((t) => `${t.event} ${t.reached ? 'after' : 'not after'} ${write(t.s, 0)} s`),
    r.performance?.score != null && `score ${write(r.performance.score, 0)}`,
    r.noise_db !== null && `${write(r.noise_db, 1)} dB`,
    r.exhaust_rise_k !== null && `exhaust ${write(r.exhaust_rise_k, 1)} K over the room`,
    r.power_w !== null && `${write(r.power_w, 1)} W`,
    r.fan_rpm !== null && `${write(r.fan_rpm, 0)} rpm`,
    r.clock_mhz !== null && `${write(r.clock_mhz, 0)} MHz`,
  ]
    .filter(Boolean)
    .join(' · ');

/** The value the files give as they are read now, with its findings. */
export function ValuePanel({ preview, busy, rise = true }: { preview: Pick<Preview, 'reduction'> | null; busy: boolean; rise?: boolean }) {
  const r = preview?.reduction ?? null;
  return (
    <section aria-label="Value" aria-live="polite" aria-busy={busy}>
      <p className={r && !r.valid ? 'font-semibold text-ember' : 'text-soft'}>
        {!preview
          ? 'Reading…'
          : !r
            ? 'No value yet'
            : r.censored
              ? 'Throttled: at or above'
              : r.valid
                ? r.absolute
                  ? 'Temperature, room not subtracted'
                  : r.rise_k === null
                    ? 'Complete: this study compares other readings'
                    : 'ΔT over ambient'
                : 'Not valid for a comparison'}
      </p>
      <p data-testid="preview-value" className={busy ? 'opacity-50' : ''}>
        {r?.rise_k == null ? (
          <span className="text-title font-semibold">
            {preview ? (r?.valid || !rise ? (r ? otherFigures(r) : 'nothing read yet') : 'no rise') : '…'}
          </span>
        ) : (
          <Figure value={write(r.rise_k, 2)} unit={r.absolute ? '°C' : 'K'} size="large" />
        )}
      </p>
      {r && r.se_k !== null && !r.censored && (
        <p className="text-soft">
          {r.ci_k ? (
            <>
              95 % <Figure value={`${write(r.ci_k[0], 2)} to ${write(r.ci_k[1], 2)}`} unit={r.absolute ? '°C' : 'K'} />
            </>
          ) : (
            <>
              standard error <Figure value={write(r.se_k, 2)} unit="K" />
            </>
          )}
          {r.r_k_per_w !== null && (
            <>
              {' · '}
              <Figure value={write(r.r_k_per_w, 4)} unit="K/W" /> at <Figure value={write(r.power_w ?? 0, 1)} unit="W" />
            </>
          )}
        </p>
      )}
      {r && (
        <div className="mt-2">
          <FindingList findings={r.findings} />
        </div>
      )}
    </section>
  );
}
