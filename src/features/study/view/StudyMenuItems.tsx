import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import type { PlanChangeAnswer } from '#features/study/server/editPlan';
import { Alert, Quiet, TextBox } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { offerUndo } from '#ui/undo';
import { useSeen } from '#ui/useSeen';
import { DeleteThing } from './DeleteThing.tsx';
import { MenuButton } from './MenuButton.tsx';

export interface StudyMenuProps {
  id: number;
  title: string;
  archived: boolean;
}

const ITEM = 'block w-full cursor-pointer px-4 py-2 text-left outline-none data-[highlighted]:bg-band';

/** What can be done with a study as a whole: another title, a copy without its data, the archive, the bin. */
export function StudyMenuItems({ id, title, archived }: StudyMenuProps) {
  const [open, setOpen] = useState<'rename' | 'copy' | 'delete' | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const archive = async () => {
    const url = `/api/studies/${id}/archived`;
    if (!(await sendJson('PUT', url, { archived: !archived }, setTold))) return;
    offerUndo({
      words: archived ? `${title} is no longer archived.` : `${title} is archived: it is out of the queue, and its results stay.`,
      ...{ method: 'PUT', url, body: { archived } },
    });
    window.location.reload();
  };
  const keep = async () => {
    const kept = await sendJson<{ id: number; title: string }>('POST', `/api/studies/${id}/template`, {}, setTold);
    if (kept)
      offerUndo({
        words: `${kept.title} is a template: studies can be started from its plan.`,
        ...{ method: 'PUT', url: `/api/templates/${kept.id}`, body: { deleted: true } },
      });
  };
  return (
    <>
      <DropdownMenu.Root modal={false} defaultOpen>
        <DropdownMenu.Trigger asChild>
          <MenuButton title={title} />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="start" className="z-50 min-w-56 border-2 border-ink bg-leaf py-1">
            <DropdownMenu.Item className={ITEM} onSelect={() => setOpen('rename')}>
              Rename the study …
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => setOpen('copy')}>
              Copy without its data …
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => void keep()}>
              Save as a template
            </DropdownMenu.Item>
            <DropdownMenu.Item className={ITEM} onSelect={() => void archive()}>
              {archived ? 'Take out of the archive' : 'Archive the study'}
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 border-t border-rule" />
            <DropdownMenu.Item className={ITEM} onSelect={() => setOpen('delete')}>
              Delete the study …
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Alert className="basis-full">{told}</Alert>
      {open === 'delete' && (
        <div className="basis-full">
          <DeleteThing kind="study" id={id} words="Delete the study …" after="/studies" isOpen onCancel={() => setOpen(null)} />
        </div>
      )}
      {(open === 'rename' || open === 'copy') && <TitleForm key={open} id={id} title={title} way={open} onCancel={() => setOpen(null)} />}
    </>
  );
}

interface TitleFormProps {
  id: number;
  title: string;
  way: 'rename' | 'copy';
  onCancel: () => void;
}

/** Another title for a study, or one for its copy. */
function TitleForm({ id, title, way, onCancel }: TitleFormProps) {
  const [wanted, setWanted] = useState(way === 'rename' ? title : `${title.slice(0, 110)} (copy)`);
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const { seen, refused } = useSeen(title);
  const rename = async () => {
    const url = `/api/studies/${id}/plan`;
    const change = (from: unknown, to: string) => ({ base: 0, changes: { title: to }, seen: { title: from } });
    const answer = await sendJson<PlanChangeAnswer>('PATCH', url, change(seen(), wanted.trim()), setTold);
    if (!answer) return;
    if (answer.conflicts.length > 0) {
      refused({ theirs: answer.conflicts[0].theirs });
      setTold(`Somebody else called it “${answer.conflicts[0].theirs}” meanwhile. Press again to replace that.`);
      return;
    }
    offerUndo({ words: `${title} is now called ${wanted.trim()}.`, ...{ method: 'PATCH', url, body: change(wanted.trim(), title) } });
    window.location.reload();
  };
  const copy = async () => {
    const made = await sendJson<{ id: number; title: string }>('POST', `/api/studies/${id}/copy`, { title: wanted.trim() }, setTold);
    if (!made) return;
    offerUndo({
      words: `${made.title} is a copy without the data.`,
      ...{ method: 'POST', url: '/api/bin', body: { kind: 'study', id: made.id }, to: `/studies/${id}/plan` },
    });
    window.location.assign(`/studies/${made.id}/plan`);
  };
  return (
    <form
      aria-label={way === 'rename' ? 'Rename the study' : 'Copy the study'}
      className="flex basis-full flex-wrap items-end gap-3 border-l-4 border-ink bg-leaf px-4 py-3"
      onSubmit={async (e) => {
        e.preventDefault();
        setBusy(true);
        await (way === 'rename' ? rename() : copy());
        setBusy(false);
      }}
    >
      <div className="w-96 max-w-full">
        <TextBox
          label={way === 'rename' ? 'New title' : 'Title of the copy'}
          hint={way === 'copy' ? 'question, plan and specimens come along; nothing that was measured does' : undefined}
          maxLength={120}
          value={wanted}
          onChange={setWanted}
        />
      </div>
      <button type="submit" className="act" disabled={busy || wanted.trim() === '' || (way === 'rename' && wanted.trim() === title)}>
        {way === 'rename' ? 'Rename' : 'Copy the study'}
      </button>
      <Quiet onClick={onCancel}>Cancel</Quiet>
      <Alert className="basis-full">{told}</Alert>
    </form>
  );
}
