import { keepUnits, write } from '#core/text/words';
import type { CoolersAsSet } from '#features/results/model/coolers/asSet';
import type { StudyFacts } from '#features/results/model/facts';
import type { ArrangedResults } from '#features/results/model/resultsAnswer';
import { SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { Sentences } from '#ui/Words.tsx';
import { AnswerLadder } from '../Ladder.tsx';

interface AsSetPanelProps {
  facts: StudyFacts;
  set: CoolersAsSet;
  answer: ArrangedResults;
  confidence: number;
}

/** Coolers that were each run at one speed: compared as they were set, with the noise that each made. */
export const AsSetPanel = ({ facts, set, answer, confidence }: AsSetPanelProps) => (
  <>
    <h1 className="mt-4 text-verdict leading-[1.15] font-semibold">
      {keepUnits(set.alike ? `${set.words}: ${answer.headline.claim}` : answer.headline.claim)}{' '}
      <span className="text-title font-normal text-soft">{keepUnits(answer.headline.basis)}</span>
    </h1>
    {!set.alike && <Sentences className="mt-2 max-w-4xl border-l-4 border-ember pl-3" list={[keepUnits(`${set.words}.`), ...set.biases]} />}
    <AnswerLadder title={facts.title} reference={facts.reference} confidence={confidence} answer={answer} />
    <Table
      label="Coolers as they were set"
      caption="Each as it was set, the mean over its mounts."
      rows={set.coolers}
      keyOf={(c) => c.name}
      columns={[
        { head: 'Cooler', names: true, cell: (c) => <SpecimenName name={c.name} position={c.position} /> },
        { head: `Noise / ${set.unit}`, figure: true, cell: (c) => `${c.at_most ? '≤ ' : ''}${write(c.level, 1)}` },
        { head: 'Fan / rpm', figure: true, cell: (c) => (c.rpm === null ? '–' : write(c.rpm, 0)) },
        { head: 'Mounts', figure: true, cell: (c) => c.mounts },
      ]}
    />
    <p className="mt-3 max-w-2xl text-soft">
      Each cooler was run at one speed. Runs at three speeds or more, better five, also tell it at other noise, speed and temperature.
    </p>
  </>
);
