import { useCallback, useEffect, useRef, useState } from 'react';
import type { Corners, Point } from '#core/image/types';
import { type Face, type ImprintReading, MOST_PHOTO_BYTES } from '#features/mount/model/imprint';
import { useWorker } from '#ui/useWorker';
import type { ImprintApi, MeasuredImprint } from './imprint.worker';

/** Width of what is laid over the photograph, px. */
const OVERLAY = 900;
const INSET = 0.16;

/** A photograph as it lies open. */
export interface OpenPhoto {
  name: string;
  blob: Blob;
  url: string;
  width: number;
  height: number;
}

/** A face of a mount with its photograph, how it is read and what it shows. */
export interface ImprintDesk {
  face: Face;
  photo: OpenPhoto | null;
  reading: ImprintReading;
  /** the last measurement; null before the first, and while the photograph cannot be measured */
  measured: MeasuredImprint | null;
  busy: boolean;
  /** true where what is measured is what is set now */
  settled: boolean;
  told: string | null;
  open: (blob: Blob, name: string, reading?: ImprintReading) => Promise<void>;
  close: () => void;
  change: (part: Partial<ImprintReading>) => void;
}

/** Corners a little inside the picture, to be pulled onto the part. */
const FIRST_CORNERS: Point[] = [
  { x: INSET, y: INSET },
  { x: 1 - INSET, y: INSET },
  { x: 1 - INSET, y: 1 - INSET },
  { x: INSET, y: 1 - INSET },
];

/** Opens the photograph of one face and measures it in a web worker, as its corners move. */
export function useImprint(face: Face, part: { length_mm: number; width_mm: number }): ImprintDesk {
  const { ask } = useWorker<ImprintApi>('imprint');
  const shown = useRef<OpenPhoto | null>(null);
  const [photo, setPhoto] = useState<OpenPhoto | null>(null);
  const [reading, setReading] = useState<ImprintReading>({
    ...{ corners: FIRST_CORNERS, ...part },
    ...{ mirrored: face === 'base', face_goes_on: face === 'base', swapped: false, threshold: null },
  });
  const [measured, setMeasured] = useState<MeasuredImprint | null>(null);
  const [busy, setBusy] = useState(false);
  const [answered, setAnswered] = useState<ImprintReading | null>(null);
  const [told, setTold] = useState<string | null>(null);
  // the picture's address holds the picture in memory until it is given back
  useEffect(() => () => (photo ? URL.revokeObjectURL(photo.url) : undefined), [photo]);

  const open: ImprintDesk['open'] = async (blob, name, stored) => {
    if (blob.size > MOST_PHOTO_BYTES) {
      setTold(`${name} has ${Math.round(blob.size / 1048576)} MB; up to ${MOST_PHOTO_BYTES / 1048576} MB are taken.`);
      return;
    }
    setBusy(true);
    setTold(null);
    const size = await ask()
      .open(blob)
      .catch(() => null);
    setBusy(false);
    if (!size) {
      setTold(`${name} is no photograph that can be opened; JPEG, PNG and WebP can. A phone may have to be told to save as JPEG.`);
      return;
    }
    setMeasured(null);
    setReading((r) => stored ?? { ...r, corners: FIRST_CORNERS, threshold: null, swapped: false });
    setPhoto({ name, blob, url: URL.createObjectURL(blob), ...size });
  };

  // one measurement at a time: what changed meanwhile is measured once, as it stands then
  const wanted = useRef<{ photo: OpenPhoto; reading: ImprintReading } | null>(null);
  const working = useRef(false);
  const work = useCallback(async () => {
    if (working.current) return;
    working.current = true;
    setBusy(true);
    while (wanted.current) {
      const now = wanted.current;
      wanted.current = null;
      const corners = now.reading.corners.map((p) => ({ x: p.x * now.photo.width, y: p.y * now.photo.height })) as Corners;
      const answer = await ask()
        .measure({ ...now.reading, corners }, Math.min(OVERLAY, now.photo.width))
        .catch(() => ({ problem: 'The measurement broke off; open the photograph again.' }));
      // a photograph that was closed or changed meanwhile has no answer
      if (shown.current !== now.photo) continue;
      setTold('problem' in answer ? answer.problem : null);
      setMeasured('problem' in answer ? null : answer);
      setAnswered(now.reading);
    }
    working.current = false;
    setBusy(false);
  }, [ask]);

  useEffect(() => {
    shown.current = photo;
    if (!photo) return;
    // while a corner is being dragged only where it rests is measured
    const timer = setTimeout(() => {
      wanted.current = { photo, reading };
      void work();
    }, 120);
    return () => clearTimeout(timer);
  }, [photo, reading, work]);

  return {
    ...{ face, photo, reading, measured, busy, told, open, settled: answered === reading },
    close: () => {
      wanted.current = null;
      setPhoto(null);
      setMeasured(null);
      setTold(null);
    },
    change: (p) => setReading((r) => ({ ...r, ...p })),
  };
}
