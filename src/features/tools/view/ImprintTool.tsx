import { useEffect, useMemo, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { bothFaces } from '#core/image/bothFaces';
import type { Imprint } from '#core/image/types';
import { write, writeSigned } from '#core/text/words';
import { cornerWords, coverWords, FACES, type Face, type ImprintReading, imprintFigures, unsureWords } from '#features/mount/model/imprint';
import type { ToolSetting } from '#features/tools/server/toolSetting';
import { Act, NumberBox, numberWithin, Quiet, TextButton, Tick } from '#ui/Form.tsx';
import { send } from '#ui/send';
import { CheckedLink, Figure } from '#ui/Words.tsx';
import { CornerPicker } from './CornerPicker.tsx';
import { StraightView, viewOf } from './StraightView.tsx';
import { type ImprintDesk, useImprint } from './useImprint';

interface PrintToolProps {
  setting: ToolSetting;
  /** a stored print that is read anew */
  stored: { id: number; face: Face; reading: ImprintReading } | null;
}

/** Measures what material left on a face: cover, voids, centre, corners, squeeze-out, of both faces. */
export function ImprintTool({ setting, stored }: PrintToolProps) {
  const { mount } = setting;
  const sides = { length_mm: mount?.length_mm ?? 37, width_mm: mount?.width_mm ?? 37 };
  const part = useImprint('part', sides);
  const base = useImprint('base', sides);
  const [face, setFace] = useState<Face>(stored?.face ?? 'part');
  const desk = face === 'part' ? part : base;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the stored photograph is fetched once
  useEffect(() => {
    if (!stored) return;
    void fetch(`/api/photographs/${stored.id}`)
      .then((r) => r.blob())
      .then((blob) => (stored.face === 'part' ? part : base).open(blob, `photograph ${stored.id}`, stored.reading));
  }, []);
  useEffect(() => {
    const take = (e: Event) => {
      e.preventDefault();
      const file = (e as CustomEvent<File>).detail;
      void desk.open(file, file.name);
    };
    window.addEventListener('photograph', take);
    return () => window.removeEventListener('photograph', take);
  }, [desk.open]);
  const both = useMemo(
    () =>
      part.measured && base.measured
        ? bothFaces(
            { mask: part.measured.print.mask, mirrored: part.reading.mirrored },
            { mask: base.measured.print.mask, mirrored: base.reading.mirrored },
            part.measured.per_mm,
          )
        : null,
    [part.measured, base.measured, part.reading.mirrored, base.reading.mirrored],
  );
  return (
    <div>
      <div role="tablist" aria-label="Faces" className="mb-4 flex gap-2">
        {(Object.keys(FACES) as Face[]).map((f) => {
          const print = (f === 'part' ? part : base).measured?.print;
          return (
            <button
              key={f}
              type="button"
              role="tab"
              aria-selected={f === face}
              onClick={() => setFace(f)}
              className={`min-h-11 border-b-4 px-4 hover:bg-band ${f === face ? 'border-ember font-semibold' : 'border-rule'}`}
            >
              {FACES[f]}
              {print && <span className="figure text-soft"> {coverWords(imprintFigures(print), 0)}</span>}
            </button>
          );
        })}
      </div>
      {both && (
        <p className="mb-4 text-name" data-testid="both">
          Both faces laid together: <Figure value={write(100 * both.cover, 1)} unit="%" size="name" /> covered, alike on{' '}
          {write(100 * both.agreement, 0)} % of the part
          {[part, base].some((d) => (d.measured?.print.unsure.length ?? 0) > 0) && '; unsure, as a face is'}.
        </p>
      )}
      <FacePanel key={face} desk={desk} mount={mount} storedId={stored?.face === face ? stored.id : null} />
    </div>
  );
}

function FacePanel({ desk, mount, storedId }: { desk: ImprintDesk; mount: ToolSetting['mount']; storedId: number | null }) {
  const [overlay, setOverlay] = useState(true);
  const { photo, reading, measured } = desk;
  const drop = useDropzone({
    accept: { 'image/*': ['.jpg', '.jpeg', '.png', '.webp'] },
    multiple: false,
    validator: () => null,
    onDrop: (files, refused) => {
      const file = files[0] ?? refused[0]?.file;
      if (file) void desk.open(file, file.name);
    },
  });
  const told = desk.told && (
    <p role="alert" className="my-3 border-l-4 border-ember pl-3">
      {desk.told}
    </p>
  );
  if (!photo) {
    return (
      <div>
        {told}
        <div
          {...drop.getRootProps()}
          className={`flex min-h-64 flex-col items-center justify-center gap-3 border-2 border-dashed p-6 text-center ${drop.isDragActive ? 'border-ember' : 'border-soft'}`}
        >
          <input {...drop.getInputProps()} aria-label="Photograph of the face" />
          <p className="text-name font-semibold">
            {desk.busy ? 'Opening the photograph …' : `Drop a photograph of the ${desk.face === 'part' ? 'part' : 'cooler’s base'}`}
          </p>
          <p className="max-w-xl text-soft">
            Straight from above, all four corners in it, even light from the side, no lamp mirrored in the metal. It stays on this machine.
          </p>
          <Act className="min-h-12" onClick={drop.open}>
            Choose or take one
          </Act>
        </div>
      </div>
    );
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div>
        <CornerPicker desk={desk} photo={photo} overlay={overlay} />
        <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-2">
          <Tick hand words="Show what was found" checked={overlay} onChange={setOverlay} />
          <Quiet onClick={desk.close}>Another photograph</Quiet>
        </div>
        <Settings desk={desk} />
      </div>
      <div>
        {told}
        {measured ? (
          <>
            <Told print={measured.print} />
            <div className="mt-3 max-w-md">
              <StraightView measured={measured} mirrored={reading.mirrored} found={overlay} />
              <p className="mt-1 text-note text-soft">
                Straightened{reading.mirrored ? ', as it was photographed' : ''}. Teal is covered, ember a void; + the part’s centre, ○ the
                print’s. A picture shows where material is, not how thick it lies. <CheckedLink subject="print" />
              </p>
            </div>
            {mount && <Save desk={desk} mount={mount} storedId={storedId} />}
          </>
        ) : (
          <p className="text-soft" role="status">
            {desk.busy ? 'Measuring …' : desk.told ? '' : 'Pull the corners onto the part.'}
          </p>
        )}
      </div>
    </div>
  );
}

/** What the print shows: the cover large, the rest in a row beneath. */
function Told({ print }: { print: Imprint }) {
  const { cover, cover_range, voids, offset, rings, squeeze_out, glare, edge_mm } = print;
  const percent = (v: number, digits = 1) => write(100 * v, digits);
  const corners = cornerWords(print);
  const unsure = unsureWords(print);
  const oddCorners = print.corners.filter((c) => c.state !== 'even').length;
  return (
    <div>
      <p className="flex flex-wrap items-end gap-x-3" data-testid="cover">
        {unsure ? (
          <>
            <Figure value={`${percent(cover_range[0], 0)} to ${percent(cover_range[1], 0)}`} unit="%" size="large" />
            <span className="pb-1">
              covered, unsure: {unsure}. At the threshold as set {percent(cover, 0)} %.
            </span>
          </>
        ) : (
          <>
            <Figure value={percent(cover)} unit="%" size="large" />
            <span className="pb-1">
              covered; {percent(cover_range[0])} to {percent(cover_range[1])} % by lightness, by colour and as the threshold is moved a
              little
            </span>
          </>
        )}
      </p>
      {unsure && (
        <p className="mt-2 max-w-xl">
          Look at what was marked: only a picture with even light, no overexposure and sharp edges gives one figure. A range is left out of
          the comparison of coverage with temperature.
        </p>
      )}
      <dl className="mt-3 grid max-w-xl grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-3">
        {(
          [
            [
              'Voids',
              `${percent(voids.share)} %`,
              voids.count === 0 ? 'none' : `${voids.count}, the largest ${write(voids.largest_mm2, 1)} mm²`,
            ],
            ['Centre', `${write(offset.r_mm, 1)} mm off`, `${writeSigned(offset.x_mm, 1)} right, ${writeSigned(offset.y_mm, 1)} up`],
            ['Corners', oddCorners === 0 ? 'even' : `${oddCorners} of 4`, oddCorners === 0 ? 'none thin or thick' : corners],
            ['Middle to rim', `${rings.map((r) => percent(r, 0)).join(' · ')} %`, 'covered, by thirds of the way out'],
            [
              'Squeezed out',
              squeeze_out ? `${percent(squeeze_out.share)} %` : 'not told',
              squeeze_out ? `of the part’s area, up to ${write(squeeze_out.reach_mm, 1)} mm` : 'something else lies around the part',
            ],
            ['Overexposed', `${percent(glare)} %`, glare >= 0.0005 ? 'filled in, or taken for the brighter tone' : 'none'],
            ['Edges', `${write(edge_mm, 1)} mm`, 'over which the material thins out'],
          ] as const
        ).map(([name, value, note]) => (
          <div key={name}>
            <dt className="font-semibold">{name}</dt>
            <dd>
              <span className="figure">{value}</span>
              <span className="block text-note text-soft">{note}</span>
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function Settings({ desk }: { desk: ImprintDesk }) {
  const { reading, change } = desk;
  const [length, setLength] = useState(String(reading.length_mm));
  const [width, setWidth] = useState(String(reading.width_mm));
  useEffect(() => {
    setLength(String(reading.length_mm));
    setWidth(String(reading.width_mm));
  }, [reading.length_mm, reading.width_mm]);
  const threshold = Math.round(100 * (reading.threshold ?? 0.5));
  const flag = (key: 'mirrored' | 'face_goes_on' | 'swapped', words: string) => (
    <Tick hand words={words} checked={reading[key]} onChange={(on) => change({ [key]: on })} />
  );
  return (
    <div className="mt-3 grid grid-cols-2 gap-x-4 gap-y-2">
      <NumberBox
        label="Corner 1 to 2 / mm"
        value={length}
        min={1}
        max={1000}
        onChange={(text) => {
          setLength(text);
          const v = numberWithin(text, 1, 1000);
          if (v !== null) change({ length_mm: v });
        }}
      />
      <NumberBox
        label="Corner 2 to 3 / mm"
        value={width}
        min={1}
        max={1000}
        onChange={(text) => {
          setWidth(text);
          const v = numberWithin(text, 1, 1000);
          if (v !== null) change({ width_mm: v });
        }}
      />
      <div className="col-span-2">
        <label className="block font-semibold" htmlFor="threshold">
          Threshold <span className="figure font-normal">{threshold} %</span>{' '}
          <span className="font-normal text-soft">
            of the way from bare to covered{reading.threshold === null ? ', by itself' : ', by hand'}
          </span>
        </label>
        <span className="flex items-center gap-3">
          <input
            id="threshold"
            type="range"
            min={5}
            max={95}
            value={threshold}
            className="h-8 w-full accent-(--ember)"
            onChange={(e) => change({ threshold: Number(e.target.value) / 100 })}
          />
          {reading.threshold !== null && <TextButton onClick={() => change({ threshold: null })}>by itself</TextButton>}
        </span>
      </div>
      <div className="col-span-2">
        {flag('swapped', 'The other tone is the material')}
        {flag('mirrored', 'This face was turned over for the picture')}
        {flag('face_goes_on', 'The same bare metal lies around the part')}
      </div>
    </div>
  );
}

function Save({ desk, mount, storedId }: { desk: ImprintDesk; mount: NonNullable<ToolSetting['mount']>; storedId: number | null }) {
  const { measured, photo, reading, face } = desk;
  const [told, setTold] = useState<string | null>(null);
  const [done, setDone] = useState(false);
  const [busy, setBusy] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was saved is old as soon as it is read otherwise
  useEffect(() => setDone(false), [measured]);
  if (!measured || !photo) return null;
  const save = async () => {
    setBusy(true);
    const form = new FormData();
    form.set(
      'about',
      JSON.stringify({ who: localStorage.getItem('initials') ?? '', face, reading, figures: imprintFigures(measured.print) }),
    );
    form.set('view', await viewOf(measured), 'view.jpg');
    if (storedId === null) form.set('photo', photo.blob, photo.name);
    const url = storedId === null ? `/api/mounts/${mount.id}/photographs` : `/api/photographs/${storedId}`;
    const saved = await send(url, { method: storedId === null ? 'POST' : 'PUT', body: form }, setTold);
    setBusy(false);
    setDone(saved !== null);
  };
  return (
    <p className="mt-4 flex flex-wrap items-center gap-3">
      <Act className="min-h-12" disabled={busy || done || !desk.settled} onClick={() => void save()}>
        {storedId === null ? `Save it into ${mount.name}` : `Save this reading of ${mount.name}`}
      </Act>
      <a href={`/mounts/${mount.id}`} className="underline">
        Back to the mount
      </a>
      <span role="status">{told ?? (busy ? 'Saving …' : done ? 'Saved.' : '')}</span>
    </p>
  );
}
