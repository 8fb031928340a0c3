import { useState } from 'react';
import { keepUnits } from '#core/text/keepUnits';
import { noiseOf, readLevels } from '#features/tools/model/noise';
import { Field } from '#ui/Field.tsx';
import { ChoiceBox, NumberBox, within } from '#ui/Inputs.tsx';

/** What a fan sounds like by itself: readings with the room's floor and the distance, told for another. */
export function NoiseTool() {
  const [readings, setReadings] = useState('33.4 33.1 33.6');
  const [floor, setFloor] = useState('24');
  const [from, setFrom] = useState('0.5');
  const [to, setTo] = useState('1');
  const [weighting, setWeighting] = useState('dB(A)');
  const levels = readLevels(readings);
  const [room, near, far] = [within(floor, -20, 150), within(from, 0.05, 20), within(to, 0.05, 20)];
  const answer = levels && room !== null && near !== null && far !== null ? noiseOf(levels, room, near, far, weighting) : null;
  return (
    <div>
      <p className="text-verdict leading-[1.15] font-semibold" data-testid="noise">
        {answer ? keepUnits(answer.sentence) : 'Readings, the floor of the room and the distances tell the level.'}
      </p>
      <div className="mt-6 grid max-w-3xl gap-x-6 gap-y-4 sm:grid-cols-2">
        <Field
          label={`Readings / ${weighting}`}
          hint="averaged by their energy"
          error={levels ? undefined : 'Up to 100 levels from −20 to 160 dB, parted by spaces or lines.'}
        >
          {(p) => <textarea {...p} className="field figure h-24 w-full" value={readings} onChange={(e) => setReadings(e.target.value)} />}
        </Field>
        <div className="grid content-start gap-y-4">
          <NumberBox
            label={`Floor of the room / ${weighting}`}
            value={floor}
            onChange={setFloor}
            min={-20}
            max={150}
            hint="everything off, the meter where it stood"
          />
          <ChoiceBox
            label="Weighting"
            value={weighting}
            onChange={setWeighting}
            choices={[
              ['dB(A)', 'A'],
              ['dB(C)', 'C'],
              ['dB', 'none (Z)'],
            ]}
          />
        </div>
        <NumberBox label="Distance of the meter / m" value={from} onChange={setFrom} min={0.05} max={20} />
        <NumberBox label="Told for / m" value={to} onChange={setTo} min={0.05} max={20} hint="6 dB less for twice the distance: in the open, away from walls" />
      </div>
      <p className="mt-6 max-w-3xl text-note text-soft">
        A level says how loud, not how it sounds: a rattle or a pure tone can be worse at the same figure. Name weighting, distance, floor and room beside every
        level; a level without them compares with nothing.
      </p>
    </div>
  );
}
