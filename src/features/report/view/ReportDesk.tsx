import { ArrowDown, ArrowUp } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { ReportContent } from '#features/report/model/content';
import { publishingView } from '#features/report/model/publishing';
import { REPORT_SECTIONS, type SectionDraft } from '#features/report/model/reportSections';
import type { DraftView } from '#features/report/server/draft';
import type { ReportVersion } from '#features/report/server/freeze';
import { DeleteThing } from '#features/study/view/DeleteThing.tsx';
import { Act, Alert, Quiet, TextBox, TextButton, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { ReportArticle } from './ReportArticle.tsx';

interface ReportDeskProps {
  studyId: number;
  content: ReportContent;
  draft: DraftView;
  versions: ReportVersion[];
}

/** What the draft holds as it is worked on, and what follows from it. */
function useDraft({ studyId, content, draft, versions }: ReportDeskProps) {
  const [sections, setSections] = useState(draft.sections);
  const [version, setVersion] = useState(draft.version);
  const [told, setTold] = useState<string | null>(null);
  const [stored, setStored] = useState(true);
  const [busy, setBusy] = useState(false);
  const shown: ReportContent = { ...content, sections: sections.filter((s) => s.shown).map(({ key, words }) => ({ key, words })) };
  const change = (next: SectionDraft[]) => {
    setSections(next);
    setStored(false);
  };
  const set = (at: number, part: Partial<SectionDraft>) => change(sections.map((s, i) => (i === at ? { ...s, ...part } : s)));
  const move = (at: number, by: number) => {
    const next = [...sections];
    [next[at], next[at + by]] = [next[at + by], next[at]];
    change(next);
  };
  const store = async () => {
    const answer = await sendJson<DraftView>('PUT', `/api/studies/${studyId}/report`, { sections, version }, setTold);
    if (!answer) return false;
    setVersion(answer.version);
    setStored(true);
    return true;
  };
  const publish = async (author: string) => {
    setBusy(true);
    if (stored || (await store())) {
      // what speaks against it was shown with the question
      const body = { who: localStorage.getItem('initials') ?? '', author, insist: true };
      const frozen = await sendJson<{ address: string }>('POST', `/api/studies/${studyId}/report/versions`, body, setTold);
      if (frozen) globalThis.location.assign(`/reports/${frozen.address}`);
    }
    setBusy(false);
  };
  return { version, shown, busy, publish, versions, told, sections, set, move, stored, store };
}
type Draft = ReturnType<typeof useDraft>;

/** The report as it stands beside how it is put together: order, words, and publishing a version. */
export function ReportDesk(props: ReportDeskProps) {
  const draft = useDraft(props);
  const [asking, setAsking] = useState(false);
  const { version, shown, busy, publish, versions, told, sections, stored, store } = draft;
  return (
    <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-10 xl:grid-cols-[minmax(0,1fr)_340px]">
      <ReportArticle content={shown} />
      <aside className="print:hidden" aria-label="Assembling the report">
        <div className="section-rule xl:sticky xl:top-4">
          <div className="flex flex-wrap items-center gap-2">
            <Act disabled={busy || asking} onClick={() => setAsking(true)}>
              Publish version {(versions[0]?.number ?? 0) + 1} …
            </Act>
            <Quiet onClick={() => globalThis.print()}>Print</Quiet>
          </div>
          <p className="mt-1 text-note text-soft">
            A published version never changes: it keeps its figures, words and checksum at an address of its own.
          </p>
          <Alert>{told}</Alert>
          {asking && <PublishForm content={shown} busy={busy} onPublish={publish} onCancel={() => setAsking(false)} />}
          <h2 className="mt-6 text-name font-semibold">Sections</h2>
          <ol className="mt-1">
            {sections.map((s, i) => (
              <SectionItem key={s.key} draft={draft} s={s} i={i} />
            ))}
          </ol>
          <Quiet className="mt-3" disabled={stored} onClick={() => void store()}>
            {stored ? 'Stored' : 'Save sections'}
          </Quiet>
          {version > 0 && <DeleteThing kind="draft" id={props.studyId} words="Delete the draft …" className="ml-4" />}
          <VersionList versions={versions} />
        </div>
      </aside>
    </div>
  );
}

interface PublishFormProps {
  content: ReportContent;
  busy: boolean;
  onPublish: (author: string) => Promise<void>;
  onCancel: () => void;
}

/** What publishing freezes and what a reader would ask about it, before it is done. */
function PublishForm({ content, busy, onPublish, onCancel }: PublishFormProps) {
  const { freezes, claim, warnings } = publishingView(content);
  const [author, setAuthor] = useState('');
  useEffect(() => setAuthor(localStorage.getItem('author') ?? ''), []);
  return (
    <form
      aria-label="Publish the report"
      className="mt-3 border-l-4 border-ember bg-leaf px-4 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        localStorage.setItem('author', author.trim());
        void onPublish(author.trim());
      }}
    >
      <p className="font-semibold">Frozen for good: {freezes}.</p>
      <p className="mt-1">“{claim}”</p>
      {warnings.length > 0 && (
        <ul className="mt-2 list-disc pl-5">
          {warnings.map((w) => (
            <li key={w} className="text-ember">
              {w}
            </li>
          ))}
        </ul>
      )}
      <div className="mt-3">
        <TextBox label="Author" hint="As it is cited: a person, a lab or both." maxLength={120} value={author} onChange={setAuthor} />
      </div>
      <div className="mt-3 flex flex-wrap gap-2">
        <button type="submit" className="act" disabled={busy}>
          {busy ? 'Publishing…' : warnings.length > 0 ? 'Publish anyway' : 'Publish'}
        </button>
        <Quiet onClick={onCancel}>Cancel</Quiet>
      </div>
    </form>
  );
}

/** Published versions of a report, the newest first, with what changed in each. */
function VersionList({ versions }: { versions: ReportVersion[] }) {
  if (versions.length === 0) return <p className="mt-6 text-soft">No version is published yet.</p>;
  return (
    <>
      <h2 className="mt-6 text-name font-semibold">Published</h2>
      <ol>
        {versions.map((v) => (
          <VersionItem key={v.number} v={v} />
        ))}
      </ol>
    </>
  );
}

function VersionItem({ v }: { v: ReportVersion }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const withdraw = async (withdrawn: boolean) => {
    const url = `/api/reports/${v.address}/withdrawn`;
    const who = localStorage.getItem('initials') ?? '';
    if (!(await sendJson('PUT', url, { withdrawn, reason, who }, setTold))) return;
    const body = withdrawn ? { withdrawn: false } : { withdrawn: true, reason: v.withdrawn_reason };
    offerUndo({ words: `Version ${v.number} is ${withdrawn ? 'withdrawn' : 'no longer withdrawn'}.`, ...{ method: 'PUT', url, body } });
    globalThis.location.reload();
  };
  return (
    <li className="border-b border-rule py-1.5">
      <a href={`/reports/${v.address}`} className={`font-semibold underline ${v.withdrawn_at ? 'line-through' : ''}`}>
        Version {v.number}
      </a>{' '}
      <span className="text-soft">
        {v.frozen_at.slice(0, 10)}
        {(v.author || v.who) && `, ${v.author || v.who}`}
      </span>
      <span className="figure block text-note break-all text-soft">sha256 {v.sha256.slice(0, 16)}…</span>
      {v.withdrawn_at ? (
        <span className="block text-note">
          <span className="text-ember">Withdrawn: {v.withdrawn_reason}</span>{' '}
          <TextButton className="min-h-6" onClick={() => void withdraw(false)}>
            Stand by version {v.number} again
          </TextButton>
        </span>
      ) : (
        !open && (
          <TextButton className="min-h-6 text-note" onClick={() => setOpen(true)}>
            Withdraw version {v.number} …
          </TextButton>
        )
      )}
      {open && (
        <form
          aria-label={`Withdraw version ${v.number}`}
          className="mt-2"
          onSubmit={(e) => {
            e.preventDefault();
            void withdraw(true);
          }}
        >
          <TextBox
            label="Reason for the withdrawal"
            hint="Readers see it above the report."
            maxLength={500}
            value={reason}
            onChange={setReason}
          />
          <div className="mt-2 flex gap-2">
            <button type="submit" className="quiet" disabled={reason.trim() === ''}>
              Withdraw version
            </button>
            <Quiet onClick={() => setOpen(false)}>Cancel</Quiet>
          </div>
        </form>
      )}
      <Alert>{told}</Alert>
    </li>
  );
}

/** One section: whether it is shown, its place and its words. */
const SectionItem = ({ draft: { set, move, sections }, s, i }: { draft: Draft; s: SectionDraft; i: number }) => (
  <li className="border-b border-rule py-1.5">
    <div className="flex items-center gap-1">
      <Tick words={REPORT_SECTIONS[s.key]} className="flex-1" checked={s.shown} onChange={(on) => set(i, { shown: on })} />
      <button
        type="button"
        className="p-1.5 hover:bg-band disabled:opacity-30"
        disabled={i === 0}
        aria-label={`${REPORT_SECTIONS[s.key]} up`}
        onClick={() => move(i, -1)}
      >
        <ArrowUp size={16} />
      </button>
      <button
        type="button"
        className="p-1.5 hover:bg-band disabled:opacity-30"
        disabled={i === sections.length - 1}
        aria-label={`${REPORT_SECTIONS[s.key]} down`}
        onClick={() => move(i, 1)}
      >
        <ArrowDown size={16} />
      </button>
    </div>
    {s.shown && (
      <details open={s.words !== '' || undefined}>
        <summary className="cursor-pointer text-note text-soft">{s.words === '' ? 'Add your own text' : 'Your text'}</summary>
        <textarea
          className="field mt-1 w-full"
          rows={4}
          maxLength={6000}
          aria-label={`Text above ${REPORT_SECTIONS[s.key]}`}
          value={s.words}
          onChange={(e) => set(i, { words: e.target.value })}
        />
      </details>
    )}
  </li>
);
