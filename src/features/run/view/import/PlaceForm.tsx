import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import { type ReactNode, useEffect, useRef } from 'react';
import { type UseFormReturn, useForm } from 'react-hook-form';
import { freshTitle, studyOf } from '#features/run/model/batch';
import { type NamedFile, readNames } from '#features/run/model/fileNames';
import { RunPlace } from '#features/run/model/importPlan';
import { matchFiles } from '#features/run/model/matchFiles';
import type { Places } from '#features/run/server/places';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import { Alert, type Choices, Field, Options, Quiet } from '#ui/Form.tsx';
import { FIRST_RIG, type ImportContext, type RunChoices, studyChoices } from './types';
import type { PlacesState } from './usePlaces';
import type { Store } from './useStore';

interface PlaceFormProps {
  onChoices: (change: (c: RunChoices) => RunChoices) => void;
  places: PlacesState;
  context: ImportContext;
  /** the file the run rests on, whose name says where it may belong */
  file?: NamedFile & { began: number | null };
  /** true where the run can be stored */
  ready: boolean;
  /** what it waits for otherwise */
  wait: string;
  store: Store;
  onStore: (place: RunPlace) => Promise<void>;
  /** said or asked above the button */
  children?: ReactNode;
}

/** Fills in what the name of a file says of its place, once, where nobody chose anything: a study that knows it, or names for a new one. */
function useProposal({
  form,
  data,
  context,
  file,
}: { form: UseFormReturn<RunPlace> } & Pick<PlaceFormProps, 'context' | 'file'> & { data: Places | null }) {
  const proposed = useRef(false);
  useEffect(() => {
    if (!data || !file || proposed.current) return;
    proposed.current = true;
    const { setValue } = form;
    const studies = data.studies.map((s) => {
      const specimens = data.specimens.filter((o) => o.study_id === s.id);
      return { ...s, specimens, mounts: data.mounts.filter((m) => specimens.some((o) => o.id === m.specimen_id)) };
    });
    const one = { ...file, key: file.name, folder: file.folder ?? null };
    const known = studies.find((s) => s.id === (context.study_id ?? studyOf([one], studies)));
    const match = known && matchFiles([one], { ...known, at_mount: context.mount_id ?? null })[0];
    const { title, parts } = readNames([file]);
    // what a person chose or typed meanwhile stays
    const isEmpty = (name: keyof RunPlace) => !form.getValues(name);
    const isUntouched = (['study_title', 'specimen_name', 'specimen_id', 'mount_id'] as const).every(isEmpty);
    if (known && match?.specimen_id && isUntouched && (form.getValues('study_id') ?? null) === (context.study_id ?? null)) {
      setValue('study_id', known.id);
      setValue('specimen_id', match.specimen_id);
      setValue('mount_id', match.mount_id);
    }
    const taken = data.titles.map((s) => s.title);
    const day = new Date(file.began ?? Date.now()).toISOString().slice(0, 10);
    if (isEmpty('study_title')) setValue('study_title', freshTitle(title ?? `Runs of ${day}`, taken));
    if (isEmpty('specimen_name')) setValue('specimen_name', parts[0].specimen ?? '');
    if (data.rigs.length === 0 && isEmpty('rig_name')) setValue('rig_name', FIRST_RIG);
  }, [form, data, context, file]);
}

/** An id from a select: empty stands for "new". */
const toId = (text: unknown) => (text === '' || text === null || text === undefined ? null : Number(text));

/** Where the run belongs: study, specimen, mount and rig, each there already or new; then it is stored. */
export function PlaceForm({ onChoices, places, context, file, ready, wait, store, onStore, children }: PlaceFormProps) {
  const form = useForm<RunPlace>({
    resolver: classValidatorResolver(RunPlace),
    defaultValues: {
      study_id: context.study_id ?? null,
      specimen_id: context.specimen_id ?? null,
      mount_id: context.mount_id ?? null,
      rig_id: null,
      specimen_kind: 'paste',
      ...(context.load ? { load: context.load } : {}),
    },
  });
  const { register, handleSubmit, watch, setValue, formState } = form;
  const [studyId, specimenId, mountId, rigId, newLimit, chosenLoad] = watch([
    'study_id',
    'specimen_id',
    'mount_id',
    'rig_id',
    'rig_limit_c',
    'load',
  ]);
  const data = places.data;
  const specimens = data?.specimens.filter((s) => s.study_id === studyId) ?? [];
  const mounts = data?.mounts.filter((m) => m.specimen_id === specimenId) ?? [];
  const loads = data?.studies.find((s) => s.id === studyId)?.loads ?? [];

  useProposal({ form, data, context, file });

  // a mount says its rig; a new one most likely stands where the study's last did
  useEffect(() => {
    if (!data) return;
    const ofStudy = data.mounts.filter((m) => data.specimens.some((s) => s.id === m.specimen_id && s.study_id === studyId));
    const mount =
      data.mounts.find((m) => m.id === mountId) ??
      ofStudy.reduce<(typeof ofStudy)[number] | undefined>((a, m) => (a && a.id > m.id ? a : m), undefined);
    if (mount) setValue('rig_id', mount.rig_id);
    else if (data.rigs.length === 1) setValue('rig_id', data.rigs[0].id);
  }, [data, mountId, studyId, setValue]);
  const limit = rigId
    ? (data?.rigs.find((r) => r.id === rigId)?.throttle_limit_c ?? null)
    : Number.isFinite(newLimit)
      ? (newLimit ?? null)
      : null;
  const part_sensors = data?.rigs.find((r) => r.id === rigId)?.part_sensors;
  const first = data?.mounts.find((m) => m.id === mountId)?.first ?? null;
  useEffect(() => {
    const study_id = studyId ?? null;
    const load = chosenLoad ?? null;
    onChoices((c) =>
      c.limit_c === limit && c.study_id === study_id && c.first === first && c.load === load && c.part_sensors === part_sensors
        ? c
        : { ...c, limit_c: limit, study_id, first, load, part_sensors },
    );
  }, [limit, studyId, first, chosenLoad, part_sensors, onChoices]);

  const submit = handleSubmit(onStore);
  const { errors, isSubmitting } = formState;
  const clearFields = (names: ('specimen_id' | 'mount_id')[]) => {
    for (const name of names) setValue(name, null);
  };
  const pick = (
    [label, name, none]: [label: string, name: 'study_id' | 'specimen_id' | 'mount_id' | 'rig_id', none: string],
    choices: Choices<number>,
    { clears = [], hint }: { clears?: ('specimen_id' | 'mount_id')[]; hint?: string } = {},
  ) => (
    <Field label={label} hint={hint}>
      {(p) => (
        <select {...p} {...register(name, { setValueAs: toId, onChange: () => clearFields(clears) })} className="field w-full">
          <option value="">{none}</option>
          <Options choices={choices} />
        </select>
      )}
    </Field>
  );

  if (!data) return <p className="section-rule">{places.problem ?? 'Listing the studies…'}</p>;
  return (
    <form onSubmit={submit} noValidate className="section-rule flex flex-col gap-3" aria-label="Where the run belongs">
      <h3 className="text-name font-semibold">Where it belongs</h3>
      {pick(['Study', 'study_id', 'a new study'], studyChoices(data), { clears: ['specimen_id', 'mount_id'] })}
      {!studyId && (
        <Field label="Title of the new study" error={errors.study_title?.message}>
          {(p) => <input {...p} {...register('study_title')} className="field w-full" maxLength={120} />}
        </Field>
      )}
      {studyId &&
        specimens.length > 0 &&
        pick(
          ['Specimen', 'specimen_id', 'a new specimen'],
          specimens.map((s) => [s.id, s.name] as const),
          { clears: ['mount_id'] },
        )}
      {!specimenId && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Name of the specimen" error={errors.specimen_name?.message}>
            {(p) => <input {...p} {...register('specimen_name')} className="field w-full" maxLength={80} />}
          </Field>
          <Field label="Kind" error={errors.specimen_kind?.message}>
            {(p) => (
              <select {...p} {...register('specimen_kind')} className="field w-full">
                <Options choices={SPECIMEN_KINDS.map((k) => [k, KIND_NAMES[k]] as const)} />
              </select>
            )}
          </Field>
        </div>
      )}
      <div className="grid grid-cols-2 gap-3">
        {pick(
          ['Mount', 'mount_id', 'a new mount'],
          mounts.map((m) => [m.id, `Mount ${m.number}, ${m.rig}`] as const),
          {
            hint: mountId ? 'another run on this mount' : 'Freshly applied and assembled.',
          },
        )}
        {pick(
          ['Rig', 'rig_id', 'a new rig'],
          data.rigs.map((r) => [r.id, r.name] as const),
        )}
      </div>
      {loads.length > 1 && (
        <Field label="Load" hint="Each load of the study is compared separately.">
          {(p) => (
            <select {...p} {...register('load', { setValueAs: (v) => v || null })} className="field w-full">
              <Options choices={loads.map((l) => [l, l] as const)} />
            </select>
          )}
        </Field>
      )}
      {!rigId && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Name of the rig" error={errors.rig_name?.message}>
            {(p) => <input {...p} {...register('rig_name')} className="field w-full" maxLength={80} />}
          </Field>
          <Field label="Throttle limit / °C" error={errors.rig_limit_c?.message} hint="Empty if not known.">
            {(p) => (
              <input
                {...p}
                {...register('rig_limit_c', { setValueAs: (v) => (v === '' || v == null ? null : Number(String(v).replace(',', '.'))) })}
                inputMode="decimal"
                className="field figure w-full"
              />
            )}
          </Field>
        </div>
      )}
      {children}
      <Alert className="">{store.told}</Alert>
      {store.progress && (
        <p className="flex items-center gap-3">
          <progress className="h-2 flex-1" value={store.progress.share ?? undefined} aria-label={store.progress.what} />
          <span className="text-note text-soft">
            {store.progress.what}
            {store.progress.share !== null && ` · ${Math.round(100 * store.progress.share)} %`}
          </span>
        </p>
      )}
      <div className="flex items-center gap-3">
        <button type="submit" className="act whitespace-nowrap" disabled={!ready || isSubmitting}>
          {isSubmitting ? 'Storing…' : 'Store this run'}
        </button>
        {isSubmitting && <Quiet onClick={store.cancel}>Cancel</Quiet>}
        {!ready && !isSubmitting && <span className="text-soft">{wait}</span>}
      </div>
    </form>
  );
}
