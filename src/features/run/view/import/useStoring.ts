import { useRef, useState } from 'react';
import type { Batch, BatchRow } from './useBatch';
import { useStore } from './useStore';

/** A run that is to be stored, with its place. */
export interface ToStore {
  row: BatchRow;
  /** runs with the same label go to the same mount */
  label: string;
  place: Record<string, unknown> & { specimen_name: string };
}

interface StoringProps {
  batch: Batch;
  refresh: () => void;
  /** forgets what was chosen, once all of it is stored */
  forget: () => void;
}

/** Stores the runs of a batch one after the other; what the first of them opened is there for the next. */
export function useStoring({ batch, refresh, forget }: StoringProps) {
  const store = useStore();
  const [at, setAt] = useState<number | null>(null);
  const [of, setOf] = useState(0);
  const [study, setStudy] = useState<number | null>(null);
  const stopped = useRef(false);
  const run = async (runs: ToStore[], open: number) => {
    stopped.current = false;
    setOf(runs.length);
    const opened = { study: null as number | null, rig: null as number | null };
    const specimens = new Map<string, number>();
    const mounts = new Map<string, { mount_id: number; rig_id: number }>();
    let stored = 0;
    for (const [i, { row, label, place }] of runs.entries()) {
      if (stopped.current) break;
      setAt(i);
      batch.change(row.key, { state: 'storing', said: null });
      const { reading, sensor, room_c, room_u_k, layout_id } = row.how;
      const plan = {
        ...{ import_id: row.importId, reading, sensor, room_c, room_u_k: room_c === null ? null : room_u_k, layout_id },
        place: {
          ...place,
          study_id: place.study_id ?? opened.study,
          specimen_id: place.specimen_id ?? specimens.get(place.specimen_name) ?? null,
          mount_id: place.mount_id ?? mounts.get(label)?.mount_id ?? null,
          rig_id: mounts.get(label)?.rig_id ?? place.rig_id ?? opened.rig,
        },
      };
      let said: string | null = null;
      const answer = await store.send(plan, [row.file], [], (sentence) => {
        said = sentence;
      });
      if (!answer) {
        batch.change(row.key, { state: 'refused', said: said ?? 'Cancelled. Nothing was stored.' });
        continue;
      }
      stored++;
      opened.study ??= answer.study_id;
      opened.rig ??= answer.rig_id;
      specimens.set(place.specimen_name, answer.specimen_id);
      mounts.set(label, answer);
      batch.change(row.key, { state: 'stored', run_id: answer.run_id });
      setStudy(answer.study_id);
    }
    setAt(null);
    refresh();
    // to the results where nothing is left to be looked at here
    if (stored < runs.length || stored === 0 || open > 0 || opened.study === null) return;
    forget();
    window.location.assign(`/studies/${opened.study}/results`);
  };
  const stop = () => {
    stopped.current = true;
    store.cancel();
  };
  return { store, at, of, study, run, stop };
}
