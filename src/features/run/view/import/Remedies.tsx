import type { TypedRemedy } from '#features/run/model/typedRun';
import { Quiet } from '#ui/Form.tsx';

interface RemediesProps {
  remedies: TypedRemedy[];
  /** the one that is taken with the readings; null where none is */
  chosen: TypedRemedy | null;
  onChoose: (remedy: TypedRemedy | null) => void;
}

/** Readings that do not count as the study stands: what would let them count, each one button. */
export function Remedies({ remedies, chosen, onChoose }: RemediesProps) {
  if (remedies.length === 0) return null;
  return (
    <section aria-label="Use these readings" className="border-l-4 border-ember pl-4">
      {chosen ? (
        <p>
          {chosen.words}: saved with the readings, and other readings of this study are read again by it.{' '}
          <Quiet onClick={() => onChoose(null)}>Undo</Quiet>
        </p>
      ) : (
        <>
          <p className="font-semibold">With the settings of this study these readings give no value. Enter what is missing, or:</p>
          <div className="mt-2 flex flex-col items-start gap-2">
            {remedies.map((r) => (
              <Quiet key={r.words} onClick={() => onChoose(r)}>
                {r.words}
              </Quiet>
            ))}
          </div>
        </>
      )}
    </section>
  );
}
