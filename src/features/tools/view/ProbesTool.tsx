import { useId, useRef, useState } from 'react';
import type { ProbeComparison, ProbeError } from '#core/signal/probes/compareProbes';
import { keepUnits, write } from '#core/text/words';
import { calendarDay } from '#core/units/calendarDay';
import { changes, comparisonNotes, comparisonSentence, errorWords, gainWords, sheetChange } from '#features/tools/model/probeWords';
import type { ProbeInstrument } from '#features/tools/server/probeInstruments';
import { Alert, ChoiceBox, Options, Quiet } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { Table } from '#ui/Table.tsx';
import { useWorker } from '#ui/useWorker';
import { Section } from '#ui/Words.tsx';
import type { ProbesApi } from './probes.worker';

const MOST_FILES = 24;

/** Probes that lay in one place, compared: what each reads too high, and on which sheet that is written down. */
export function ProbesTool({ instruments }: { instruments: ProbeInstrument[] }) {
  const id = useId();
  const { ask } = useWorker<ProbesApi>('probes');
  const [read, setRead] = useState<{ names: string[]; files: string[]; problems: string[] }>({ names: [], files: [], problems: [] });
  const [shown, setShown] = useState<{ reference: string; found: ProbeComparison | null }>({ reference: '', found: null });
  const asked = useRef(0);
  const { names, files, problems } = read;
  const { reference, found } = shown;
  const compare = async (against: string) => {
    const ticket = ++asked.current;
    setShown({ ...shown, reference: against });
    const compared = await ask().compare(against);
    if (ticket === asked.current) setShown({ reference: against, found: compared });
  };
  const take = async (list: File[]) => {
    const ticket = ++asked.current;
    if (list.length > MOST_FILES)
      return setRead({ ...read, problems: [`Up to ${MOST_FILES} stretches are compared at once; these are ${list.length} files.`] });
    const got = await ask().read(list);
    if (ticket !== asked.current) return;
    setRead({ ...got, files: list.map((f) => f.name) });
    if (got.names.length > 0) await compare(got.names.includes(reference) ? reference : got.names[0]);
    else setShown({ reference: '', found: null });
  };
  const { claim, basis } = found
    ? comparisonSentence(found, reference)
    : { claim: 'Do two probes read the same?', basis: 'Put them in one place, log them for some minutes, and choose the log.' };
  return (
    <div>
      <p aria-live="polite" className="text-verdict leading-[1.15] font-semibold" data-testid="probes">
        {keepUnits(claim)} <span className="text-title font-normal text-soft">{keepUnits(basis)}</span>
      </p>
      {found &&
        comparisonNotes(found).map((n) => (
          <p key={n} className="mt-1">
            {keepUnits(n)}
          </p>
        ))}
      <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
        <div>
          <label htmlFor={id} className="block font-semibold">
            Logs, a file for each stretch
          </label>
          <input
            id={id}
            type="file"
            multiple
            className="w-full text-note"
            accept=".csv,.tsv,.txt,.log"
            onChange={(e) => void take([...(e.target.files ?? [])])}
          />
          <p className="mt-1 text-note text-soft">
            {files.length > 0 ? files.join(', ') : 'Each column of temperatures is a probe; names are the same in all files.'}
          </p>
          {problems.map((p) => (
            <Alert key={p}>{p}</Alert>
          ))}
          {names.length > 0 && (
            <div className="mt-4">
              <ChoiceBox
                label="Compared with"
                value={reference}
                onChange={(against) => void compare(against)}
                choices={names}
                hint="The one you trust most."
              />
            </div>
          )}
          <Section id="how" title="How" className="mt-6">
            <ol className="mt-1 list-decimal pl-5">
              <li>Tie the tips together and put them into a stirred glass of water or a block of metal, away from draughts.</li>
              <li>Wait until nothing changes any more, then log three minutes or longer. That is one stretch, one file.</li>
              <li>Take them out, put them in again, log again: three stretches tell how much their places differ.</li>
              <li>Once more near the temperature of your runs: then the change of the error with temperature is told too.</li>
            </ol>
            <p className="mt-3 border-l-4 border-ember pl-3">
              Water and mains do not mix: only probes that their maker made for it go into water, and nothing near it is under mains
              voltage. Hot water scalds. The data sheet of a probe says what it bears.
            </p>
          </Section>
        </div>
        {found && (
          <div>
            <Table
              label="Errors of the probes"
              least="min-w-[34rem]"
              rows={found.probes}
              keyOf={(p) => p.name}
              columns={[
                { head: 'Probe', names: true, cell: (p) => p.name },
                { head: 'Reads', cell: (p) => keepUnits(errorWords(p)) },
                { head: 'At', figure: true, cell: (p) => `${write(p.at_c, 1)} °C` },
                { head: 'More per 10 K', figure: true, cell: gainWords },
                { head: 'Step', figure: true, cell: (p) => (p.resolution_k === null ? '–' : `${Number(p.resolution_k.toPrecision(2))} K`) },
                { head: 'Stretches', figure: true, cell: (p) => p.stretches },
              ]}
            />
            <p className="mt-2 text-soft">
              ± is half of a 95 % interval: scatter, both steps, and from two stretches on how far the places of the probes differ.
            </p>
            {instruments.length > 0 && <Sheets probes={found.probes} reference={reference} instruments={instruments} />}
          </div>
        )}
      </div>
    </div>
  );
}

/** Writes what was found to the sheets of the instruments that the probes are. */
function Sheets({ probes, reference, instruments }: { probes: ProbeError[]; reference: string; instruments: ProbeInstrument[] }) {
  const [known, setKnown] = useState(instruments);
  const named = (name: string) => known.find((i) => i.name.toLowerCase() === name.toLowerCase())?.id ?? null;
  const [said, setSaid] = useState<Record<string, number | null>>({});
  const [told, setTold] = useState<string | null>(null);
  const [written, setWritten] = useState<string | null>(null);
  const sheetOf = (name: string) => known.find((i) => i.id === (name in said ? said[name] : named(name)));
  const accuracy = sheetOf(reference)?.sheet.accuracy;
  const choices = known.map((i) => [i.id, i.name] as const);
  const save = async (probe: ProbeError) => {
    const sheet = sheetOf(probe.name);
    if (!sheet) return;
    setWritten(null);
    const change = sheetChange(probe, typeof accuracy === 'number' ? accuracy : null, calendarDay(Date.now() / 1000, true));
    const url = `/api/shelf/instruments/${sheet.id}`;
    const answer = await sendJson<ProbeInstrument>(
      'PUT',
      url,
      { name: sheet.name, sheet: { ...sheet.sheet, ...change }, version: sheet.version },
      setTold,
    );
    if (!answer) return;
    setKnown(known.map((i) => (i.id === answer.id ? answer : i)));
    setWritten(
      `${sheet.name}: ${write(change.offset, 4).replace(/0+$/, '')} K is added to its readings in live runs from now on. Runs that are stored stay as they are.`,
    );
  };
  return (
    <Section id="sheets" title="On the sheets" className="mt-8">
      <p className="mt-1 max-w-3xl text-soft">
        The logs have to be as the probes read, without the offset of a sheet. What is written replaces the offset there, with today as the
        day of its calibration{typeof accuracy === 'number' ? `, and the accuracy follows from that of ${sheetOf(reference)?.name}` : ''}.
      </p>
      <Table
        className="mt-2"
        label="Sheets of the probes"
        rows={[{ name: reference, probe: null }, ...probes.map((p) => ({ name: p.name, probe: p }))]}
        keyOf={(r) => r.name}
        columns={[
          { head: 'Probe', names: true, cell: (r) => r.name },
          {
            head: 'Its instrument',
            cell: (r) => (
              <select
                className="field w-full max-w-64"
                aria-label={`Instrument of ${r.name}`}
                value={sheetOf(r.name)?.id ?? ''}
                onChange={(e) => setSaid({ ...said, [r.name]: e.target.value ? Number(e.target.value) : null })}
              >
                <option value="">none</option>
                <Options choices={choices} />
              </select>
            ),
          },
          {
            head: <span className="sr-only">Write</span>,
            cell: ({ probe }) =>
              probe === null ? (
                <span className="text-soft">compared with</span>
              ) : !sheetOf(probe.name) ? (
                <span className="text-soft">choose its instrument</span>
              ) : (
                <>
                  <Quiet onClick={() => void save(probe)}>Write {keepUnits(`${write(-probe.error_k, 2)} K`)} to the sheet</Quiet>
                  {changes(probe) && <span className="block text-note">right near {keepUnits(`${write(probe.at_c, 0)} °C`)} only</span>}
                </>
              ),
          },
        ]}
      />
      <Alert>{told}</Alert>
      <p role="status" className="mt-2 font-semibold">
        {written && keepUnits(written)}
      </p>
    </Section>
  );
}
