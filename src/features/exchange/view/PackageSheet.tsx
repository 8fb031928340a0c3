import { useEffect, useRef, useState } from 'react';
import { bytesWords } from '#core/text/bytesWords';
import { list, plural } from '#core/text/words';
import {
  type ArrivalChoices,
  type ArrivalPreview,
  type ArrivedStudy,
  type ArrivingSheet,
  WAYS,
  type Way,
} from '#features/exchange/model/arrival';
import type { ArrivalLine, LookedPackage } from '#features/exchange/server/heldPackages';
import { SECTIONS } from '#features/shelf/model/sections';
import { Act, Alert, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { Moment } from '#ui/Moment.tsx';
import { Sheet } from '#ui/Sheet.tsx';
import { send } from '#ui/send';
import { uploading } from '#ui/uploading';

type OwnPackage = Extract<LookedPackage, { token: string }>;

interface PackageSheetProps {
  file: File;
  onClose: () => void;
}

/** A package on its way in: what it would bring, what is here already, and what came of it. */
export default function PackageSheet({ file, onClose }: PackageSheetProps) {
  const [looked, setLooked] = useState<OwnPackage | null>(null);
  const [sent, setSent] = useState(0);
  const [told, setTold] = useState<string | null>(null);
  const [stored, setStored] = useState<ArrivedStudy | null>(null);
  const token = useRef<string | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    const by = uploading(setSent);
    const headers = { 'content-type': 'application/zip' };
    const url = `/api/packages?name=${encodeURIComponent(file.name)}`;
    void send<LookedPackage>(url, { method: 'POST', headers, body: file, signal: stop.signal }, setTold, undefined, by).then((answer) => {
      if (!answer) return;
      // what another program measured is read like its logs
      if ('foreign' in answer) {
        window.dispatchEvent(new CustomEvent('logs', { detail: answer.foreign.map((f) => new File([f.text], f.name)) }));
        return onClose();
      }
      token.current = answer.token;
      setLooked(answer);
    });
    return () => stop.abort();
  }, [file, onClose]);
  const close = () => {
    if (token.current && !stored) void fetch(`/api/packages/${token.current}`, { method: 'DELETE' });
    onClose();
  };
  return (
    <Sheet title={`Bring in ${file.name}`} closeLabel="Close without bringing it in" notice={null} onClose={close}>
      <div className="flex flex-1 flex-col gap-5 px-4 pt-4 pb-12 sm:px-9">
        {!looked && !told && (
          <p role="status">
            Sending and checking {bytesWords(file.size)} <progress className="ml-2 h-2 w-60" value={sent} max={1} aria-label="Sent" />
          </p>
        )}
        <Alert className="">{told}</Alert>
        {stored ? <Arrived stored={stored} /> : looked && <Decision looked={looked} onStored={setStored} onTold={setTold} />}
      </div>
    </Sheet>
  );
}

interface DecisionProps {
  looked: OwnPackage;
  onStored: (stored: ArrivedStudy) => void;
  onTold: (sentence: string | null) => void;
}

/** What a package would bring, with what there is to decide. */
function Decision({ looked: { token, preview }, onStored, onTold }: DecisionProps) {
  const [ways, setWays] = useState<Record<string, Way>>(Object.fromEntries(preview.sheets.map((s) => [s.key, s.way])));
  const [own, setOwn] = useState(preview.own);
  const [who, setWho] = useState(() => localStorage.getItem('initials') ?? '');
  const { progress, bring, cancel } = useBringing(token, onStored, onTold);
  const isBusy = progress !== null;
  const twice = preview.sheets.filter((s) => s.mine !== null);
  // where nothing differs there is nothing to decide
  const same = twice.filter((s) => s.mine?.differs.length === 0);
  const other = twice.filter((s) => !same.includes(s));
  const choices = (): ArrivalChoices => ({
    ...{ own, who },
    sheets: Object.fromEntries(twice.map((s) => [s.key, ways[s.key]])),
  });
  if (preview.problems.length > 0)
    return (
      <section aria-labelledby="package-title">
        <PackageHead preview={preview} />
        <div className="border-l-4 border-ember bg-leaf px-4 py-3">
          <p className="font-semibold">It cannot be brought in as it is; nothing is stored.</p>
          <ul className="mt-2 list-disc pl-5">
            {preview.problems.map((p) => (
              <li key={p} className="break-words">
                {p}
              </li>
            ))}
          </ul>
        </div>
      </section>
    );
  return (
    <section aria-labelledby="package-title" className="flex flex-col gap-5">
      <PackageHead preview={preview} />
      {other.length > 0 && (
        <SheetChoices sheets={other} ways={ways} isBusy={isBusy} onWay={(key, way) => setWays((w) => ({ ...w, [key]: way }))} />
      )}
      {same.length > 0 && (
        <p className="max-w-3xl">On your shelf already, and the same: {list(same.map((s) => s.name))}. Yours are used.</p>
      )}
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <Tick words="Measured by this lab, on another machine" checked={own} disabled={isBusy} onChange={() => setOwn((o) => !o)} />
        <TextBox label="Your initials" className="w-28" maxLength={20} value={who} disabled={isBusy} onChange={setWho} />
      </div>
      <p className="max-w-3xl text-soft">
        Every run is read anew from its logs and every verdict computed anew here. Where that differs from what the package says, the study
        shows both. All of it comes in, or nothing.
      </p>
      <div className="flex flex-wrap items-center gap-4">
        <Act disabled={isBusy} onClick={() => void bring(choices())}>
          Bring it in
        </Act>
        {progress && (
          <>
            <progress className="h-2 w-60" value={progress.done} max={Math.max(1, progress.total)} aria-label="Runs read" />
            <span className="figure text-soft" role="status">
              {progress.total === 0 ? 'Checking' : `${progress.done} of ${plural(progress.total, 'run')}`}
            </span>
            <Quiet onClick={cancel}>Cancel</Quiet>
          </>
        )}
      </div>
    </section>
  );
}

/** Brings a package in, line by line of the answer; a cancelled one leaves nothing. */
function useBringing(token: string, onStored: DecisionProps['onStored'], onTold: DecisionProps['onTold']) {
  const [progress, setProgress] = useState<{ done: number; total: number } | null>(null);
  const control = useRef<AbortController | null>(null);
  const bring = async (choices: ArrivalChoices) => {
    onTold(null);
    setProgress({ done: 0, total: 0 });
    control.current = new AbortController();
    try {
      const response = await fetch(`/api/packages/${token}`, {
        ...{
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(choices),
          signal: control.current.signal,
        },
      });
      for await (const line of linesOf(response)) {
        if ('stored' in line) return onStored(line.stored);
        if ('error' in line) return onTold(line.error);
        setProgress(line);
      }
      onTold('The answer broke off before the end. Look under Studies whether it came in.');
    } catch (error) {
      onTold(
        (error as Error).name === 'AbortError'
          ? 'Cancelled. Nothing was stored.'
          : 'The server does not answer. Look under Studies whether the study came in; if not, bring it in again.',
      );
    } finally {
      setProgress(null);
    }
  };
  return { progress, bring, cancel: () => control.current?.abort() };
}

async function* linesOf(response: Response): AsyncGenerator<ArrivalLine> {
  if (!response.body) return;
  const decoder = new TextDecoder();
  const reader = response.body.getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    rest += decoder.decode(value, { stream: !done });
    const lines = rest.split('\n');
    rest = lines.pop() ?? '';
    for (const line of done ? [...lines, rest] : lines) if (line !== '') yield JSON.parse(line);
    if (done) return;
  }
}

function PackageHead({ preview }: { preview: ArrivalPreview }) {
  const { title, titled, question, lab, program, created, counts, photographs_left_out: left, problems } = preview;
  return (
    <div>
      <h2 id="package-title" className="text-verdict leading-tight font-semibold">
        {title}
      </h2>
      {question && <p className="mt-1 max-w-3xl">{question}</p>}
      <p className="mt-1 text-soft">
        {lab ? `Measured by ${lab}. ` : ''}
        Packaged by {program}
        {created && (
          <>
            , as of <Moment at={created} />
          </>
        )}
        .
      </p>
      <p className="mt-3 text-name">
        {list([
          plural(counts.specimens, 'specimen'),
          plural(counts.mounts, 'mount'),
          plural(counts.runs, 'run'),
          ...(counts.photographs > 0 ? [plural(counts.photographs, 'photograph')] : []),
          ...(counts.reports > 0 ? [plural(counts.reports, 'published version')] : []),
        ])}
        , {bytesWords(preview.bytes)}.{left > 0 && ` ${plural(left, 'photograph')} were left out of it.`}
      </p>
      {titled !== title && problems.length === 0 && (
        <p className="mt-1 font-semibold">A study here has this title; it comes in as “{titled}”.</p>
      )}
    </div>
  );
}

interface SheetChoicesProps {
  sheets: ArrivingSheet[];
  ways: Record<string, Way>;
  isBusy: boolean;
  onWay: (key: string, way: Way) => void;
}

/** Sheets of a package that go by the name of one that is here. */
const SheetChoices = ({ sheets, ways, isBusy, onWay }: SheetChoicesProps) => (
  <div className="overflow-x-auto">
    <h3 className="mb-2 text-name font-semibold">On your shelf already, and not the same</h3>
    <table className="w-full max-w-4xl">
      <thead>
        <tr className="border-b-[3px] border-ink">
          <th className="py-1.5 pr-4">Sheet</th>
          <th className="pr-4">Differs in</th>
          <th>What to do</th>
        </tr>
      </thead>
      <tbody>
        {sheets.map((s) => (
          <tr key={s.key} className="border-b border-rule align-top">
            <td className="py-2 pr-4">
              <span className="font-semibold">{s.name}</span> <span className="block text-soft">{SECTIONS[s.section].one}</span>
            </td>
            <td className="py-2 pr-4">{list(s.mine?.differs ?? [])}</td>
            <td className="py-2">
              <select
                className="field"
                aria-label={`What to do with ${s.name}`}
                disabled={isBusy}
                value={ways[s.key]}
                onChange={(e) => onWay(s.key, e.target.value as Way)}
              >
                {Object.entries(WAYS).map(([way, words]) => (
                  <option key={way} value={way}>
                    {words}
                  </option>
                ))}
              </select>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  </div>
);

/** What came in, and where it differs from what the package says. */
const Arrived = ({ stored }: { stored: ArrivedStudy }) => (
  <section aria-labelledby="arrived-title" className="max-w-4xl">
    <h2 id="arrived-title" className="text-verdict leading-tight font-semibold">
      “{stored.title}” is in
    </h2>
    <p className="mt-2 text-name" role="status">
      {plural(stored.runs, 'run')} read anew, {plural(stored.pairs, 'pair')} compared anew:{' '}
      {stored.differences.length === 0
        ? 'all agrees with the package.'
        : `${plural(stored.differences.length, 'difference')} from the package. What was computed here counts.`}
    </p>
    {stored.differences.length > 0 && (
      <ul className="mt-3 list-disc pl-5">
        {stored.differences.slice(0, 50).map((line) => (
          <li key={line} className="break-words">
            {line}
          </li>
        ))}
        {stored.differences.length > 50 && <li>and {stored.differences.length - 50} more, on the results page.</li>}
      </ul>
    )}
    {stored.unchecked.length > 0 && (
      <details className="mt-3">
        <summary className="cursor-pointer py-2 font-semibold">Not checked ({stored.unchecked.length})</summary>
        <ul className="list-disc pl-5">
          {stored.unchecked.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </details>
    )}
    <a className="act mt-5 inline-block no-underline" href={`/studies/${stored.study_id}/results`}>
      See the results
    </a>
  </section>
);
