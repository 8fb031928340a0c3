import { useRef, useState } from 'react';
import { write } from '#core/text/words';
import { coverWords, FACES } from '#features/mount/model/imprint';
import type { MountSheetView } from '#features/mount/server/mountSheet';
import { Alert, Quiet, TextButton } from '#ui/Form.tsx';
import { send, sendJson } from '#ui/send';
import { Section } from '#ui/Words.tsx';
import type { MountDesk } from './useMount';

/** Photographs of a mount: its prints with their cover, and whatever else was worth a picture. */
export function Photographs({ desk }: { desk: MountDesk }) {
  const { mount, photographs } = desk.view;
  const picker = useRef<HTMLInputElement>(null);
  const [caption, setCaption] = useState('');
  const [told, setTold] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const shown = photographs.filter((p) => p.removed_at === null);
  const removed = photographs.filter((p) => p.removed_at !== null);
  const add = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    const form = new FormData();
    form.set('photo', file, file.name);
    form.set('about', JSON.stringify({ who: localStorage.getItem('initials') ?? '', caption }));
    const saved = await send(`/api/mounts/${mount.id}/photographs`, { method: 'POST', body: form }, setTold);
    setBusy(false);
    if (saved) setCaption('');
    await desk.refresh();
  };
  const setRemoved = async (id: number, gone: boolean) => {
    await sendJson('PATCH', `/api/photographs/${id}`, { removed: gone }, setTold);
    await desk.refresh();
  };
  return (
    <Section id="photographs" title="Imprint and photographs" className="mt-8">
      {shown.length === 0 && (
        <p className="text-soft">None yet. After the cooler is lifted, a picture of each face shows how much was covered.</p>
      )}
      <ul className="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
        {shown.map((p) => (
          <PhotographItem key={p.id} p={p} setRemoved={setRemoved} />
        ))}
      </ul>
      {removed.length > 0 && (
        <p className="mt-2 text-note">
          {removed.length === 1 ? 'One photograph was' : `${removed.length} photographs were`} taken out, kept for 30 days.{' '}
          <TextButton onClick={() => void setRemoved((removed.at(-1) as (typeof removed)[0]).id, false)}>Restore the last one</TextButton>
        </p>
      )}
      <div className="mt-4 flex flex-wrap items-end gap-3">
        <a href={`/tools/print?mount=${mount.id}`} className="quiet inline-flex min-h-12 items-center no-underline">
          Measure an imprint
        </a>
        <label className="flex-1 font-semibold">
          Caption
          <input
            className="field min-h-12 w-full min-w-40 font-normal"
            value={caption}
            maxLength={200}
            onChange={(e) => setCaption(e.target.value)}
          />
        </label>
        <Quiet className="min-h-12" disabled={busy} onClick={() => picker.current?.click()}>
          {busy ? 'Saving …' : 'Add a photograph'}
        </Quiet>
        <input
          ref={picker}
          type="file"
          className="hidden"
          accept="image/jpeg,image/png,image/webp"
          aria-label="Photograph of this mount"
          onChange={(e) => {
            void add(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
      </div>
      <Alert>{told}</Alert>
    </Section>
  );
}

/** One photograph with what its print shows. */
const PhotographItem = ({
  p,
  setRemoved,
}: {
  p: MountSheetView['photographs'][number];
  setRemoved: (id: number, gone: boolean) => Promise<void>;
}) => (
  <li>
    <a href={p.face ? `/tools/print?photograph=${p.id}` : `/api/photographs/${p.id}`} className="block">
      <img
        src={p.face ? `/api/photographs/${p.id}/view` : `/api/photographs/${p.id}?small`}
        alt={p.face ? `Print on the ${FACES[p.face].toLowerCase()}, seen from above` : p.caption || 'Photograph of this mount'}
        className="max-h-56 border border-rule"
        loading="lazy"
      />
    </a>
    {p.figures && p.face ? (
      <span className="block">
        {FACES[p.face]}: <span className="figure font-semibold">{coverWords(p.figures)}</span> covered
        {p.figures.unsure && <span className="block text-note">unsure: {p.figures.unsure}</span>}
        <span className="block text-note text-soft">
          {p.figures.void_count === 0 ? 'no void' : `voids ${write(100 * p.figures.voids, 1)} %`}, centre{' '}
          {write(Math.hypot(p.figures.offset_x_mm, p.figures.offset_y_mm), 1)} mm off
          {p.figures.corners && `, corners ${p.figures.corners}`}
        </span>
      </span>
    ) : (
      <span className="block">{p.caption}</span>
    )}
    <TextButton className="text-note" onClick={() => void setRemoved(p.id, true)}>
      Delete photograph
    </TextButton>
  </li>
);
