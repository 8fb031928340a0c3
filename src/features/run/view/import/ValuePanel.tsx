import { write } from '#core/text/words';
import { FindingList } from '#ui/FindingList.tsx';
import { Figure } from '#ui/Words.tsx';
import type { Preview } from './preview.worker';

/** The value the files give as they are read now, with its findings. */
export function ValuePanel({ preview, busy }: { preview: Pick<Preview, 'reduction'> | null; busy: boolean }) {
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
                  ? 'Temperature, room not taken off'
                  : r.rise_k === null
                    ? 'Complete: this study compares by other figures'
                    : 'Rise over ambient'
                : 'Not valid for a comparison'}
      </p>
      <p data-testid="preview-value" className={busy ? 'opacity-50' : ''}>
        {r?.rise_k == null ? (
          <span className="text-title font-semibold">{preview ? (r?.valid ? '' : 'no rise') : '…'}</span>
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
