import { useState } from 'react';
import { keepUnits } from '#core/text/words';
import { type PartCalculator, pairOf } from '#features/ranking/model/partCalculator';
import { partCautions, partProblem, partSentence } from '#features/ranking/model/readersPart';
import { Alert, ChoiceBox } from '#ui/Form.tsx';
import { areaOf, NO_PART, PartBar, powerOf } from './PartBar.tsx';

/** What the materials of a report would do on a part of the reader's own. */
export function OnYourPart({ part: known }: { part: PartCalculator }) {
  const [part, setPart] = useState(NO_PART);
  const [a, setA] = useState(known.materials[0]);
  const [b, setB] = useState(known.materials.at(-1) ?? known.materials[0]);
  const [power_w, area_mm2] = [powerOf(part), areaOf(part)];
  const own = power_w === null || area_mm2 === null ? null : { power_w, area_mm2, contact: part.contact, pressure: part.pressure || null };
  const refusal = own && partProblem(own, known.measured);
  const told = pairOf(known, a, b);
  return (
    <div className="print:hidden">
      <PartBar part={part} onChange={setPart} />
      <div className="mt-2 grid max-w-xl grid-cols-2 gap-4">
        <ChoiceBox label="Material" value={a} choices={known.materials} onChange={setA} />
        <ChoiceBox label="compared with" value={b} choices={known.materials} onChange={setB} />
      </div>
      {refusal ? (
        <Alert>{refusal}</Alert>
      ) : (
        <p role="status" className="mt-3 text-name font-semibold">
          {own === null ? '' : told === null ? 'Choose two different materials.' : keepUnits(partSentence(own, told, a, b))}
        </p>
      )}
      {own &&
        !refusal &&
        partCautions(own, known.measured).map((c) => (
          <p key={c} className="text-soft">
            {c}
          </p>
        ))}
    </div>
  );
}
