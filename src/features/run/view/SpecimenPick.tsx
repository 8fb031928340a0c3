import type { Places } from '#features/run/server/places';
import { Field, Options } from '#ui/Form.tsx';
import { studyChoices } from './import/types';

interface SpecimenPickProps {
  data: Places;
  study: number;
  specimen: number | null;
  onPick: (place: { study: number; specimen: number | null }) => void;
}

/** A study and a specimen of it; another study has none chosen yet. */
export const SpecimenPick = ({ data, study, specimen, onPick }: SpecimenPickProps) => (
  <>
    <Field label="Study">
      {(p) => (
        <select {...p} className="field w-full" value={study} onChange={(e) => onPick({ study: Number(e.target.value), specimen: null })}>
          <Options choices={studyChoices(data)} />
        </select>
      )}
    </Field>
    <Field label="Specimen">
      {(p) => (
        <select
          {...p}
          className="field w-full"
          value={specimen ?? ''}
          onChange={(e) => onPick({ study, specimen: Number(e.target.value) })}
        >
          <Options choices={data.specimens.filter((s) => s.study_id === study).map((s) => [s.id, s.name] as const)} />
        </select>
      )}
    </Field>
  </>
);
