import { useState } from 'react';
import { keepUnits } from '#core/text/words';
import { noiseOf, readLevels } from '#features/tools/model/noise';
import { ChoiceBox, TextArea } from '#ui/Form.tsx';
import { useNumbers } from '#ui/useNumbers.tsx';

const WEIGHTINGS = [
  ['dB(A)', 'A'],
  ['dB(C)', 'C'],
  ['dB', 'none (Z)'],
] as const;

/** What a fan sounds like by itself: readings with the room's floor and the distance, told for another. */
export function NoiseTool() {
  const [readings, setReadings] = useState('33.4 33.1 33.6');
  const [weighting, setWeighting] = useState<string>('dB(A)');
  const { all, box } = useNumbers({
    floor: { label: 'Floor of the room', start: 24, min: -20, max: 150, hint: 'everything off, the meter where it stood' },
    from: { label: 'Distance of the meter / m', start: 0.5, min: 0.05, max: 20 },
    to: { label: 'Converted to / m', start: 1, min: 0.05, max: 20, hint: '6 dB less for twice the distance: in the open, away from walls' },
  });
  const levels = readLevels(readings);
  const answer = levels && all && noiseOf(levels, all.floor, all.from, all.to, weighting);
  return (
    <div>
      <p className="text-verdict leading-[1.15] font-semibold" data-testid="noise">
        {answer ? keepUnits(answer.sentence) : 'Readings, the floor of the room and the distances tell the level.'}
      </p>
      <div className="mt-6 grid max-w-3xl gap-x-6 gap-y-4 sm:grid-cols-2">
        <TextArea
          label={`Readings / ${weighting}`}
          hint="averaged by their energy"
          error={levels ? undefined : 'Up to 100 levels from −20 to 160 dB, parted by spaces or lines.'}
          className="figure h-24"
          value={readings}
          onChange={setReadings}
        />
        <div className="grid content-start gap-y-4">
          {box('floor', { label: `Floor of the room / ${weighting}` })}
          <ChoiceBox label="Weighting" value={weighting} onChange={setWeighting} choices={WEIGHTINGS} />
        </div>
        {box('from')}
        {box('to')}
      </div>
      <p className="mt-6 max-w-3xl text-note text-soft">
        A level says how loud, not how it sounds: a rattle or a pure tone can be worse at the same figure. Name weighting, distance, floor
        and room beside every level; a level without them compares with nothing.
      </p>
    </div>
  );
}
