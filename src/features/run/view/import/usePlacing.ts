import { useMemo, useRef } from 'react';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { type BatchChoices, type BatchStudy, freshTitle, inOrder, placeBatch, studyOf } from '#features/run/model/batch';
import { isBeforeAfter, readNames } from '#features/run/model/fileNames';
import type { Places } from '#features/run/server/places';
import type { SpecimenKind } from '#features/shelf/model/materials';
import { useKept } from '#ui/useKept';
import type { PlacedRow } from './BatchTable.tsx';
import { FIRST_RIG, type ImportContext, pathOf, reductionFor } from './types';
import { type BatchRow, useBatch } from './useBatch';

/** What is there of a study, as files may belong to it. */
const partsOf = (data: Places, study: Places['studies'][number]): BatchStudy & { id: number } => {
  const specimens = data.specimens.filter((s) => s.study_id === study.id);
  return { id: study.id, title: study.title, specimens, mounts: data.mounts.filter((m) => specimens.some((s) => s.id === m.specimen_id)) };
};

/** Words of a name alone, as they are compared. */
const plainWords = (text: string) => ` ${text.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, ' ')} `;

interface WholeChoices {
  study: number | 'new' | null;
  title: string | null;
  rig: string | null;
  kind: SpecimenKind | null;
  load: string | null;
  placing: Omit<BatchChoices, 'unnumbered'> & { unnumbered: BatchChoices['unnumbered'] | null };
}

/** Choices about the whole batch, each null while it is as found; kept in the browser for the same files. */
function useChoices(context: ImportContext, logs: File[]) {
  const key = `batch ${logs.map(pathOf).sort().join(' ').slice(0, 2000)}`;
  const [choices, setChoices, forget, isBack] = useKept<WholeChoices>(key, {
    ...{ study: context.study_id ?? null, title: null, rig: null, kind: null, load: null },
    placing: { pattern: '', unnumbered: null, files: {} },
  });
  const set = (part: Partial<WholeChoices>) => setChoices((c) => ({ ...c, ...part }));
  const setPlacing = (change: (p: WholeChoices['placing']) => WholeChoices['placing']) =>
    setChoices((c) => ({ ...c, placing: change(c.placing) }));
  return { ...choices, set, setPlacing, forget, isBack };
}

interface PlacingProps {
  logs: File[];
  context: ImportContext;
  data: Places;
}

/** Where the files of a batch go: as their names, their times and the store say, and as a person chose over that. */
export function usePlacing({ logs, context, data }: PlacingProps) {
  const choices = useChoices(context, logs);
  const { placing } = choices;
  const optionsOf = useRef<(row: BatchRow) => Partial<ReduceOptions>>(() => ({}));
  const batch = useBatch(logs, (row) => optionsOf.current(row));
  const rows = batch.list;

  const known = useMemo(() => data.studies.map((s) => partsOf(data, s)), [data]);
  const found = useMemo(() => studyOf(rows, known), [rows, known]);
  const studyId = choices.study === null ? found : choices.study === 'new' ? null : choices.study;
  const study = data.studies.find((s) => s.id === studyId);
  const parts = known.find((s) => s.id === studyId) ?? null;
  const names = useMemo(() => readNames(rows), [rows]);
  const fallback = `Runs of ${new Date(Math.min(Date.now(), ...rows.map((r) => r.began ?? Date.now()))).toISOString().slice(0, 10)}`;
  const title =
    choices.title ??
    freshTitle(
      names.title ?? fallback,
      data.titles.map((s) => s.title),
    );

  const placed = useMemo((): PlacedRow[] => {
    const at = parts && { ...parts, at_mount: context.mount_id ?? null };
    const numbered = placing.unnumbered ?? (names.parts.some((p) => p.mount === null && p.run !== null) ? 'runs' : 'mounts');
    const where = placeBatch(rows, at, { ...placing, unnumbered: numbered });
    return inOrder(rows.map((row, i) => ({ file: row, row, place: where[i], numbered })));
  }, [rows, parts, placing, names, context.mount_id]);
  const specimens = [...new Set(placed.flatMap((p) => p.place.specimen ?? []))];
  const kind = choices.kind ?? (isBeforeAfter(specimens) ? 'state' : 'paste');
  const last = parts?.mounts.reduce<Places['mounts'][number] | null>(
    (a, m) => (a && a.id > m.id ? a : (data.mounts.find((o) => o.id === m.id) ?? null)),
    null,
  );
  const rigName = choices.rig ?? last?.rig ?? data.rigs.at(-1)?.name ?? FIRST_RIG;
  const rig = data.rigs.find((r) => r.name === rigName.trim());
  const loadOf = (row: BatchRow) =>
    study?.loads.find((l) => plainWords(row.name).includes(plainWords(l))) ?? ((study?.loads.length ?? 0) > 0 ? choices.load : null);
  const mountOf = (p: PlacedRow) => {
    const specimen = parts?.specimens.find((s) => s.name === p.place.specimen);
    return specimen && data.mounts.find((m) => m.specimen_id === specimen.id && m.number === p.place.mount);
  };
  optionsOf.current = (row) => {
    const p = placed.find((o) => o.row.key === row.key);
    const mount = p && mountOf(p);
    const on = mount ? data.rigs.find((r) => r.id === mount.rig_id) : rig;
    const asked = reductionFor(study, loadOf(row));
    return {
      ...asked,
      margin_k: study?.margin_k ?? 1,
      limit_c: on?.throttle_limit_c ?? null,
      first: mount?.first ?? null,
      part_sensors: [...(asked.part_sensors ?? []), ...(on?.part_sensors ?? [])],
    };
  };
  return { ...{ batch, choices, placed, parts, specimens, study, studyId, title, kind, rig, rigName }, loadOf, mountOf };
}
export type Placing = ReturnType<typeof usePlacing>;
