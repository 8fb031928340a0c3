import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { schoolNote } from '#core/compare/measuredLimits';
import { OUTCOMES } from '#core/compare/outcomes';
import type { Analysis, Finding } from '#core/compare/types';
import type { Worth } from '#core/compare/worth';
import { keepUnits, midSentence } from '#core/text/words';
import type { BeforeAfter } from '#features/results/model/beforeAfter';
import type { StudyBudget } from '#features/results/model/budget';
import type { ChangedVerdict } from '#features/results/model/choice';
import { choiceOf, choiceQuery } from '#features/results/model/choiceAddress';
import type { ResultsChoice, StudyFacts } from '#features/results/model/facts';
import { inShort } from '#features/results/model/inShort';
import { ladderTables } from '#features/results/model/ladderTable';
import { intervalsWords, mainPairs, otherPairs } from '#features/results/model/pairs';
import { partRooms } from '#features/results/model/partRooms';
import type { ResultsAnswer } from '#features/results/model/resultsAnswer';
import type { RecommendationView } from '#features/results/server/recommend';
import { Contents } from '#ui/Contents.tsx';
import { FindingList, findingName } from '#ui/FindingList.tsx';
import { Tick } from '#ui/Form.tsx';
import { Info } from '#ui/Info.tsx';
import { useWorker } from '#ui/useWorker';
import { CheckedLink, Section } from '#ui/Words.tsx';
import { BeforeAfterTable } from './BeforeAfterTable.tsx';
import { BudgetTable } from './BudgetTable.tsx';
import { ChoiceBar } from './ChoiceBar.tsx';
import { DriftChart } from './DriftChart.tsx';
import { AnswerLadder, Headline, Unplaced } from './Ladder.tsx';
import { LadderTable } from './LadderTable.tsx';
import { MountLedger } from './MountLedger.tsx';
import { PairMatrix } from './PairMatrix.tsx';
import { PartRoomsTable } from './PartRoomsTable.tsx';
import { ReadAgain } from './ReadAgain.tsx';
import { Recommendations } from './Recommendations.tsx';
import type { ResultsApi } from './results.worker';
import { ScatterFigures } from './ScatterFigures.tsx';
import { WorthTable } from './WorthTable.tsx';

/** more specimens than this make a matrix that nobody reads */
const MOST_IN_MATRIX = 16;
/** the table of pairs is fetched where it is asked for: the matrix comes first */
const PairTable = lazy(() => import('./PairTable.tsx').then((m) => ({ default: m.PairTable })));

interface ResultsDeskProps {
  facts: StudyFacts;
  initial: ResultsAnswer;
  confidence: number;
  look: string;
  worth: Worth[];
  beforeAfter: BeforeAfter[];
  budget: StudyBudget | null;
  recommendations: RecommendationView[];
  /** of how the mounts were made */
  making: { mount_id: number; specimen: string; number: number; findings: Finding[] }[];
}

/** The comparison of a study: what it says, what it rests on, and what would change under another choice. */
export function ResultsDesk({ facts, initial, confidence, look, worth, beforeAfter, budget, recommendations, making }: ResultsDeskProps) {
  const { answer, chances, choice: chosen, choose, begin, told } = useAnswer(facts, initial, confidence);
  // all below is drawn from one answer; only the choices are ahead of it
  const { choice } = answer;
  const { analysis } = answer;
  const { unit, digits, name } = OUTCOMES[choice.outcome];
  const { figures, drift } = answer;
  const rooms = partRooms(facts, choice.load);
  const ladders = ladderTables(facts);
  const isOwn = answer.changed.length === 0 && JSON.stringify(choice) === JSON.stringify(initial.choice);
  return (
    <>
      <h1 className="mt-4 text-verdict leading-[1.15] font-semibold">
        {analysis ? (
          <Headline headline={answer.headline} />
        ) : (
          `No run has a valid ${midSentence(name)}${choice.load ? ` under ${choice.load}` : ''} yet`
        )}
      </h1>
      {analysis && <InShort sentences={inShort(answer)} />}
      <Contents />
      <div className="mt-3">
        <ChoiceBar facts={facts} choice={chosen} outcomes={answer.outcomes} onChoose={choose} onNear={begin} />
        {told && (
          <p role="alert" className="mt-2 font-semibold text-ember">
            {told}
          </p>
        )}
      </div>
      {analysis && <AnswerLadder title={facts.title} reference={facts.reference} confidence={confidence} answer={answer} />}
      {analysis && analysis.specimens.length > 1 && <Chances analysis={analysis} chances={chances} />}
      <Unplaced unplaced={answer.unplaced} />
      {answer.undecided && <Undecided undecided={answer.undecided} />}
      {!isOwn && (
        <Section id="changes" title="What changes compared with the settings of the study" className="mt-8" aria-live="polite">
          <ChangedList changed={answer.changed} none="No sentence changes." />
        </Section>
      )}
      {(rooms || facts.limits_unread) && (
        <Section id="rooms" title="Parts and their limits" heading="mb-2 text-name" className="mt-10">
          {facts.limits_unread && (
            <p role="alert" className="mb-2 text-ember">
              {facts.limits_unread}
            </p>
          )}
          {facts.limits_unread && <ReadAgain runs={facts.runs.map((r) => r.run_id)} />}
          {rooms && <PartRoomsTable rooms={rooms} />}
        </Section>
      )}
      {!analysis && answer.ranks.length > 0 && (
        <Section id="ranks" title="By rank" heading="mb-2 text-name" className="mt-8">
          <Ranks ranks={answer.ranks} />
        </Section>
      )}
      {ladders.length > 0 && (
        <Section id="ladders" title="Ladder by mount" heading="mb-2 text-name" className="mt-10">
          {ladders.map((t) => (
            <LadderTable key={t.load} table={t} specimens={facts.specimens} />
          ))}
        </Section>
      )}
      {beforeAfter.length > 0 && (
        <Section id="states" title="Before and after" heading="mb-2 text-name" className="mt-10">
          <BeforeAfterTable states={beforeAfter} csv={`/api/studies/${facts.study_id}/devices.csv`} />
        </Section>
      )}
      {analysis && (
        <div className="mt-8 grid gap-10 lg:grid-cols-[3fr_2fr]">
          <Verdicts facts={facts} answer={answer} analysis={analysis} />
          <Section id="scatter" title="Scatter">
            <ScatterFigures analysis={analysis} />
            {look && <p className="mt-3 border-l-4 border-ink pl-3">{look}</p>}
            <p className="mt-3">
              {answer.school} {schoolNote(choice.scatter)} Measured by simulation; 5 % are allowed. <CheckedLink subject="verdicts" />
            </p>
            {answer.leaning && <p className="mt-2">{answer.leaning}</p>}
          </Section>
        </div>
      )}
      {analysis && !choice.sensor && (
        <Section id="words" title="Recommendation" heading="mb-1 text-name" className="mt-10">
          <Recommendations
            studyId={facts.study_id}
            initial={recommendations}
            pairs={[...mainPairs(answer), ...otherPairs(answer)]}
            outcome={choice.outcome}
            load={choice.load}
          />
        </Section>
      )}
      <Section id="mounts" title="Mounts behind the verdicts" className="mt-10">
        <p className="mb-2 text-soft">
          Every mount with its {midSentence(answer.scale.name)} in {answer.scale.unit}. Choose one to see its runs, or to leave it out with
          a reason.
        </p>
        <MountLedger facts={facts} figures={figures} outcome={choice.outcome} odd={analysis?.odd_mounts ?? []} />
        {answer.restored && (
          <div className="mt-4">
            <h3 className="font-semibold">{choice.with_excluded ? 'Without what was left out' : 'Include what was left out'}</h3>
            <ChangedList changed={answer.restored} none="Nothing would change: every verdict stays as it is." />
          </div>
        )}
      </Section>
      {analysis && analysis.pairs.length > 0 && <Pairs facts={facts} answer={answer} analysis={analysis} confidence={confidence} />}
      {worth.length > 1 && (
        <Section id="worth" title="Price and effort" heading="mb-2 text-name" className="mt-10">
          <WorthTable
            {...{ worth, currency: facts.currency, reference: facts.reference, outcome: facts.main_outcome, years: facts.years }}
            minutes={
              facts.specimens.some((s) => s.minutes !== null)
                ? Object.fromEntries(facts.specimens.map((s) => [s.name, s.minutes]))
                : undefined
            }
          />
        </Section>
      )}
      {drift && drift.points.length > 2 && (
        <Section id="drift" title="The reference over the days" heading="mb-2 text-name" className="mt-10">
          <DriftChart drift={drift} unit={unit} digits={digits} />
        </Section>
      )}
      {budget && (
        <Section id="uncertainty" title="Uncertainty of ΔT" heading="mb-2 text-name" className="mt-10">
          <BudgetTable budget={budget} />
          <p className="my-2">
            <a href={`/tools/stack?study=${facts.study_id}`} className="underline">
              Where the kelvins go, from the die to the room
            </a>
          </p>
          <CheckedLink subject="budget" />
        </Section>
      )}
      <Findings analysis={analysis} making={making} facts={facts} />
    </>
  );
}

/** The comparison in three sentences beside each other. */
const InShort = ({ sentences }: { sentences: string[] }) => (
  <ul className="mt-2 grid gap-x-8 gap-y-1 lg:grid-cols-[1.6fr_1fr_1fr]" data-testid="in-short">
    {sentences.map((s) => (
      <li key={s}>
        {keepUnits(s)}
        {/method/.test(s) && <Info term="firm" />}
      </li>
    ))}
  </ul>
);

/** Runs that need a decision, and what the answer would be with them as they stand. */
const Undecided = ({ undecided: { runs, changed } }: { undecided: NonNullable<ResultsAnswer['undecided']> }) => (
  <section className="mt-6 border-l-4 border-ember pl-4" aria-labelledby="undecided">
    <h2 id="undecided" className="text-name font-semibold">
      {runs.length === 1 ? '1 run needs' : `${runs.length} runs need`} your decision
    </h2>
    <p>Until then {runs.length === 1 ? 'it is' : 'they are'} out of all means.</p>
    <ul>
      {runs.map((r) => (
        <li key={r.run_id} className="py-1">
          <a href={`/runs/${r.run_id}`}>{r.name}</a>
          <span className="text-soft"> · {r.codes.map((c) => findingName(c).toLowerCase()).join(', ')}</span>
        </li>
      ))}
    </ul>
    <details className="mt-1">
      <summary className="cursor-pointer py-1 font-semibold">
        What the answer would be with {runs.length === 1 ? 'it' : 'them'} as {runs.length === 1 ? 'it stands' : 'they stand'}
      </summary>
      <ChangedList changed={changed} none="Nothing would change: every verdict stays as it is." />
    </details>
  </section>
);

/** Who may truly be the best, where that is open at all. */
function Chances({ analysis, chances }: { analysis: NonNullable<ResultsAnswer['analysis']>; chances: (number | null)[] | null }) {
  const { better } = OUTCOMES[analysis.outcome];
  const open = analysis.specimens.map((s, i) => ({ name: s.specimen, chance: chances?.[i] ?? 0 })).filter((s) => s.chance >= 0.005);
  const words = open
    .sort((a, b) => b.chance - a.chance)
    .map((s) => `${s.name} ${s.chance > 0.995 ? 'over 99' : Math.round(100 * s.chance)} %`);
  // keeps its line while the chances are drawn
  return (
    <p className={`mt-2 ${open.length === 0 ? 'invisible' : ''}`}>
      Chance to be truly the {better === 'lower' ? 'lowest' : 'highest'}: {words.join(', ') || 'being drawn'}.{' '}
      <CheckedLink subject="chances" />
    </p>
  );
}

/** Sentences that read otherwise, before and after. */
function ChangedList({ changed, none }: { changed: ChangedVerdict[]; none: string }) {
  if (changed.length === 0) return <p className="mt-1">{none}</p>;
  return (
    <ul>
      {changed.map((c) => (
        <li key={`${c.a} ${c.b}`} className="border-b border-rule py-2">
          {c.before ? (
            <del className="block text-soft decoration-1">{c.before}</del>
          ) : (
            <span className="block text-soft">Not judged before.</span>
          )}
          {c.after ? <span className="block">{c.after}</span> : <span className="block">Not judged: the pair is not compared.</span>}
        </li>
      ))}
    </ul>
  );
}

/** The comparison under the choice made, computed in a web worker; an answer that comes after a newer question is dropped. */
function useAnswer(facts: StudyFacts, initial: ResultsAnswer, confidence: number) {
  const { ask } = useWorker<ResultsApi>('results', (api) => api.take(facts, confidence));
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  const [chances, setChances] = useState(initial.analysis?.specimens.map((s) => s.chance_coolest) ?? null);
  const [choice, setChoice] = useState(initial.choice);
  const [told, setTold] = useState<string | null>(null);
  const choose = (change: Partial<ResultsChoice>) => {
    const next = { ...choice, ...change };
    setChoice(next);
    const query = choiceQuery(next, initial.choice);
    window.history.replaceState(null, '', `${window.location.pathname}${query ? `?${query}` : ''}${window.location.hash}`);
    const ticket = ++asked.current;
    const api = ask();
    const isLast = () => ticket === asked.current;
    // the chances take longest, so the verdicts come before them
    api
      .answer(next)
      .then((a) => {
        if (!isLast()) return null;
        setAnswer(a);
        setChances(null);
        setTold(null);
        return api.chances(next);
      })
      .then((c) => isLast() && setChances(c))
      .catch((error: Error) => setTold(`This choice cannot be compared: ${error.message}`));
  };
  // a link or a reload shows what its address says
  // biome-ignore lint/correctness/useExhaustiveDependencies: once, when the page is there
  useEffect(() => {
    const asked = choiceOf(new URLSearchParams(window.location.search), initial.choice, facts);
    if (choiceQuery(asked, initial.choice) !== '') choose(asked);
  }, []);
  return { answer, chances, choice, choose, begin: ask, told };
}

interface AnsweredProps {
  facts: StudyFacts;
  answer: ResultsAnswer;
  analysis: Analysis;
}

/** What the comparison says in sentences: against the reference, of the other pairs, and over loads or rigs. */
function Verdicts({ facts, answer, analysis }: AnsweredProps) {
  const [main, others] = [mainPairs(answer), otherPairs(answer)];
  const { interactions: across } = answer;
  const [othersOpen, setOthersOpen] = useState(false);
  return (
    <Section id="verdicts" title={facts.reference && analysis.pairs.length > 0 ? `Against ${facts.reference}` : 'Verdicts'}>
      {analysis.pairs.length === 0 && (
        <p className="mt-1">
          {analysis.specimens.length < 2
            ? 'A second specimen brings the first verdict: drop the log of its first run on this page.'
            : 'No pair can be compared; the findings say why.'}
        </p>
      )}
      <ul>
        {main.map((p) => (
          <li key={p.a + p.b} className="border-b border-rule py-2">
            {p.sentence}
          </li>
        ))}
      </ul>
      {main.some((p) => (p.more_mounts ?? 0) > 0) && (
        <p className="mt-1 text-note text-soft">
          That many further mounts settle a pair in about four of five studies like this. <CheckedLink subject="mounts" />
        </p>
      )}
      <Ranks ranks={answer.ranks} />
      {others.length > 0 && (
        <details className="mt-3" onToggle={(e) => setOthersOpen(e.currentTarget.open)}>
          <summary className="cursor-pointer py-1 font-semibold">
            {others.length === 1 ? 'The other pair as a sentence' : `The other ${others.length} pairs as sentences`}
          </summary>
          <ul>
            {(othersOpen ? others : []).map((p) => (
              <li key={p.a + p.b} className="border-b border-rule py-2">
                {p.sentence}
              </li>
            ))}
          </ul>
        </details>
      )}
      {across.length > 0 && (
        <>
          <h3 className="mt-5 font-semibold">{across[0].by === 'load' ? 'From load to load' : 'From rig to rig'}</h3>
          <ul>
            {across.map((i) => (
              <li key={`${i.by} ${i.second} ${i.specimen}`} className="border-b border-rule py-2">
                {i.sentence}
              </li>
            ))}
          </ul>
          <CheckedLink subject="differences" />
        </>
      )}
    </Section>
  );
}

/** Pairs with mounts of which only a bound is known, by rank. */
const Ranks = ({ ranks }: { ranks: string[] }) =>
  ranks.length > 0 && (
    <>
      <ul>
        {ranks.map((r) => (
          <li key={r} className="border-b border-rule py-2">
            {r}
          </li>
        ))}
      </ul>
      <CheckedLink subject="events" />
    </>
  );

/** All pairs, as a matrix or as a table. */
function Pairs({ facts, answer, analysis, confidence }: AnsweredProps & { confidence: number }) {
  const { choice } = answer;
  const [asMatrix, setAsMatrix] = useState(answer.rungs.length <= MOST_IN_MATRIX);
  return (
    <section className="section-rule mt-10" aria-labelledby="pairs">
      <div className="mb-2 flex flex-wrap items-baseline gap-4">
        <h2 id="pairs" className="text-name font-semibold">
          Pairs
        </h2>
        <div role="radiogroup" aria-label="Pairs as" className="flex gap-3">
          {[true, false].map((matrix) => (
            <Tick
              key={String(matrix)}
              words={matrix ? 'Matrix' : 'Table'}
              name="pairs-as"
              checked={asMatrix === matrix}
              onChange={() => setAsMatrix(matrix)}
            />
          ))}
        </div>
      </div>
      <p className="mb-2 text-soft">{intervalsWords(analysis.pairs.length, confidence)}</p>
      {asMatrix ? (
        <PairMatrix rungs={answer.rungs} pairs={analysis.pairs} outcome={choice.outcome} />
      ) : (
        <Suspense fallback={<p className="text-soft">Fetching the table …</p>}>
          <PairTable pairs={analysis.pairs} reference={facts.reference} outcome={choice.outcome} />
        </Suspense>
      )}
    </section>
  );
}

interface FindingsProps {
  analysis: Analysis | null;
  making: ResultsDeskProps['making'];
  facts: ResultsDeskProps['facts'];
}

/** What the checks found, of the comparison and of how its mounts were made. */
const Findings = ({ analysis, making, facts }: FindingsProps) => (
  <Section id="findings" title="Findings" className="mt-10">
    {((analysis?.findings.length ?? 0) > 0 || making.length === 0) && <FindingList findings={analysis?.findings ?? []} />}
    {making.length > 0 && (
      <>
        <h3 className="mt-5 font-semibold">Of how the mounts were made</h3>
        <ul>
          {making.map((m) => (
            <li key={m.mount_id} className="border-b border-rule py-2">
              <a href={`/mounts/${m.mount_id}`}>
                {m.specimen}, mount {m.number}
              </a>
              : {m.findings.map((f) => f.message).join(' ')}
            </li>
          ))}
        </ul>
      </>
    )}
    <p className="mt-4 text-soft">
      <a href={`/api/studies/${facts.study_id}/values.csv`}>Run values as CSV</a> ·{' '}
      <a href={`/api/studies/${facts.study_id}/results.json`}>Everything as JSON</a> ·{' '}
      <a href={`/api/studies/${facts.study_id}/tables.xlsx`}>Tables as a workbook</a> ·{' '}
      <a href={`/api/studies/${facts.study_id}/package`}>Package that anybody can check</a>
    </p>
  </Section>
);
