import { keepUnits } from '#core/text/keepUnits';
import type { ArrangedResults } from '#features/results/model/resultsAnswer';
import { Ladder } from './Ladder.tsx';

/** A comparison's claim, and smaller what it rests on. */
export const Headline = ({ headline }: Pick<ArrangedResults, 'headline'>) => (
  <>
    {keepUnits(headline.claim)} <span className="text-title font-normal text-soft">{keepUnits(headline.basis)}</span>
  </>
);

interface AnswerLadderProps {
  title: string;
  reference: string | null;
  confidence: number;
  answer: ArrangedResults;
}

/** The comparison's ladder. */
export const AnswerLadder = ({ title, reference, confidence, answer }: AnswerLadderProps) => (
  <div className="mt-4">
    <Ladder
      title={title}
      specimens={answer.rungs}
      reference={reference}
      margin={answer.margin}
      range={answer.range}
      confidence={confidence}
      outcome={answer.choice.outcome}
      scale={answer.scale}
    />
  </div>
);

/** The specimens that have no place on the ladder, and why. */
export const Unplaced = ({ unplaced }: Pick<ArrangedResults, 'unplaced'>) =>
  unplaced.length === 0 ? null : <p className="mt-2">Without a valid run, so not on the ladder: {unplaced.join('; ')}.</p>;
