import { useEffect } from 'react';
import { list, plural } from '#core/text/words';
import { asksMounts, batchWords } from '#features/run/model/batch';
import type { Places } from '#features/run/server/places';
import { KIND_NAMES, SPECIMEN_KINDS } from '#features/shelf/model/materials';
import { Act, Alert, ChoiceBox, Field, Options, Quiet, TextBox, Tick } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { BatchReadings } from './BatchReadings.tsx';
import { BatchTable } from './BatchTable.tsx';
import { type ImportContext, studyChoices } from './types';
import { isLeft } from './useBatch';
import { usePlaces } from './usePlaces';
import { type Placing, usePlacing } from './usePlacing';
import { useStoring } from './useStoring';

/**
 * Several runs dropped at once, with or without a study: each is read, placed by its name and time, and stored when the table is confirmed.
 */
export function BatchSheet({ logs, context }: { logs: File[]; context: ImportContext }) {
  const places = usePlaces(context.study_id);
  if (!places.data) return <p className="px-4 pt-4 sm:px-9">{places.problem ?? 'Listing the studies…'}</p>;
  return <Desk logs={logs} context={context} data={places.data} refresh={places.refresh} need={places.need} />;
}

interface DeskProps {
  logs: File[];
  context: ImportContext;
  data: Places;
  refresh: () => void;
  need: (study: number | null) => void;
}

function Desk({ logs, context, data, refresh, need }: DeskProps) {
  const placing = usePlacing({ logs, context, data });
  const { batch, placed, parts, studyId, title, kind, rig, rigName, loadOf, mountOf } = placing;
  const { setPlacing } = placing.choices;
  useEffect(() => need(studyId), [need, studyId]);
  const rows = batch.list;
  const taken = placed.filter((p) => !isLeft(p.row) && p.row.state !== 'stored');
  const storing = useStoring({ batch, refresh, forget: placing.choices.forget });
  const toStore = taken.filter((p) => p.row.state === 'read' && p.place.specimen !== null);
  const unnamed = taken.filter((p) => p.row.state === 'read' && p.place.specimen === null);
  const wrong = placed.filter((p) => p.row.state === 'refused' && !isLeft(p.row)).length;
  const throttled = taken.filter((p) => p.row.preview?.reduction?.censored).length;
  const twice = placed.filter((p) => (p.row.known || p.row.twin) && isLeft(p.row)).length;
  const wait = batch.isReading
    ? `Reading ${plural(rows.filter((r) => r.preview === null).length || 1, 'file')}…`
    : unnamed.length > 0
      ? `${plural(unnamed.length, 'file has', 'files have')} no name yet: name ${unnamed.length === 1 ? 'it' : 'them'}, or leave ${unnamed.length === 1 ? 'it' : 'them'} out.`
      : !studyId && title.trim() === ''
        ? 'Give the study a title.'
        : rigName.trim() === ''
          ? 'Name the rig.'
          : null;
  const isBusy = storing.at !== null;
  const storeAll = () =>
    storing.run(
      toStore.map((p) => {
        const mount = mountOf(p);
        const specimen_name = p.place.specimen as string;
        return {
          row: p.row,
          label: `${specimen_name}\n${p.place.mount}`,
          place: {
            ...{ study_id: studyId, study_title: title.trim(), specimen_name, specimen_kind: kind, mount_number: p.place.mount },
            ...{ specimen_id: parts?.specimens.find((s) => s.name === specimen_name)?.id ?? null, mount_id: mount?.id ?? null },
            ...{ rig_id: mount?.rig_id ?? rig?.id ?? null, rig_name: rigName.trim(), load: loadOf(p.row) },
          },
        };
      }),
      unnamed.length + wrong,
    );

  return (
    <div data-own-keeping className="flex flex-1 flex-col gap-5 px-4 pt-4 pb-12 sm:px-9">
      <div>
        <p className="text-verdict leading-tight font-semibold" data-testid="batch-words">
          {batchWords(placed.filter((p) => !isLeft(p.row) && p.row.state !== 'refused').map((p) => p.place))}
        </p>
        {(throttled > 0 || twice > 0 || wrong > 0) && (
          <p className="font-semibold text-ember">
            {list([
              ...(throttled > 0 ? [`${throttled} throttled`] : []),
              ...(twice > 0 ? [`${twice} stored already`] : []),
              ...(wrong > 0 ? [`${wrong} cannot be read`] : []),
            ])}
          </p>
        )}
      </div>
      {placing.choices.isBack && <p role="status">Your earlier choices for these files are back. They are not stored yet.</p>}
      <WholeFields placing={placing} data={data} isBusy={isBusy} />
      <BatchTable
        placed={placed}
        batch={batch}
        isBusy={isBusy}
        known={parts?.specimens.map((s) => s.name) ?? []}
        mountOf={mountOf}
        onPlace={(keys, change) =>
          setPlacing((c) => ({ ...c, files: { ...c.files, ...Object.fromEntries(keys.map((k) => [k, { ...c.files[k], ...change }])) } }))
        }
        onMove={async (p) => {
          const mount = mountOf(p);
          const specimen = parts?.specimens.find((s) => s.name === p.place.specimen);
          const where = mount ? { mount_id: mount.id } : { specimen_id: specimen?.id, rig_id: rig?.id };
          const who = localStorage.getItem('initials') ?? '';
          const tell = (said: string | null) => batch.change(p.row.key, { said });
          const moved = await sendJson<{ run_id: number }>('PUT', `/api/runs/${p.row.known?.run_id}/mount`, { ...where, who }, tell);
          if (moved) batch.change(p.row.key, { state: 'stored', run_id: moved.run_id, said: 'moved here' });
          refresh();
        }}
      />
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        {asksMounts(placed.map((p) => p.place)) && (
          <fieldset className="flex flex-wrap items-center gap-x-5 gap-y-1">
            <legend className="font-semibold">Files without a mount in their name are</legend>
            {(['mounts', 'runs'] as const).map((way) => (
              <Tick
                key={way}
                name="unnumbered"
                words={way === 'mounts' ? 'each a new mount' : 'runs of one mount'}
                checked={placed[0]?.numbered === way}
                onChange={() => setPlacing((c) => ({ ...c, unnumbered: way }))}
              />
            ))}
          </fieldset>
        )}
        <details>
          <summary className="min-h-9 cursor-pointer py-1.5">Use another name pattern</summary>
          <TextBox
            label="Pattern of the names"
            hint="such as {specimen}_{mount}_{run}, with * for anything; empty: found automatically"
            maxLength={120}
            value={placing.choices.placing.pattern}
            onChange={(pattern) => setPlacing((c) => ({ ...c, pattern }))}
          />
        </details>
      </div>
      <BatchReadings batch={batch} onRemember={storing.store.remember} />
      <div className="sm:sticky bottom-0 z-10 -mx-4 flex flex-wrap items-center gap-4 border-t border-ink bg-paper px-4 py-3 sm:-mx-9 sm:px-9">
        <Act disabled={isBusy || toStore.length === 0 || (wait !== null && unnamed.length === 0)} onClick={() => void storeAll()}>
          Store {plural(toStore.length, 'run')}
        </Act>
        {storing.at !== null && (
          <>
            <progress className="h-2 w-60" value={storing.at} max={storing.of} aria-label="Runs stored" />
            <span className="text-soft">
              {storing.at + 1} of {storing.of}
            </span>
            <Quiet onClick={storing.stop}>Stop</Quiet>
          </>
        )}
        {!isBusy && wait && <span className="text-soft">{wait}</span>}
        {!isBusy && storing.study !== null && (
          <span>
            {plural(rows.filter((r) => r.state === 'stored').length, 'run')} stored.{' '}
            <a className="underline" href={`/studies/${storing.study}/results`}>
              See the results
            </a>
          </span>
        )}
        <Alert className="">{storing.store.told}</Alert>
      </div>
    </div>
  );
}

/** What holds for all files: the study, its title, the rig, what is compared, and the load. */
function WholeFields({ placing, data, isBusy }: { placing: Placing; data: Places; isBusy: boolean }) {
  const { choices, study, studyId, title, kind, rig, rigName } = placing;
  return (
    <>
      <div className="grid items-start gap-x-6 gap-y-3 sm:grid-cols-2 lg:grid-cols-4">
        <Field label="Study">
          {(p) => (
            <select
              {...p}
              className="field w-full"
              disabled={isBusy}
              value={studyId ?? ''}
              onChange={(e) => choices.set({ study: Number(e.target.value) || 'new' })}
            >
              <option value="">a new study</option>
              <Options choices={studyChoices(data)} />
            </select>
          )}
        </Field>
        {!studyId && <TextBox label="Title of the new study" maxLength={120} value={title} onChange={(t) => choices.set({ title: t })} />}
        <TextBox
          label={data.rigs.length === 0 ? 'Rig or device' : 'Rig or device of new mounts'}
          list="batch-rigs"
          maxLength={80}
          value={rigName}
          hint={rig ? undefined : 'A new name adds a rig; enter its limits on the shelf.'}
          onChange={(r) => choices.set({ rig: r })}
        />
        {!studyId && (
          <ChoiceBox
            label="What is compared"
            value={kind}
            choices={SPECIMEN_KINDS.map((k) => [k, KIND_NAMES[k]] as const)}
            hint="Names on the shelf keep their kind."
            onChange={(k) => choices.set({ kind: k })}
          />
        )}
        {(study?.loads.length ?? 0) > 1 && (
          <ChoiceBox
            label="Load"
            value={choices.load ?? ''}
            choices={[['', 'none'], ...(study?.loads ?? []).map((l) => [l, l] as const)]}
            hint="For files whose names say none."
            onChange={(l) => choices.set({ load: l || null })}
          />
        )}
      </div>
      <datalist id="batch-rigs">
        {data.rigs.map((r) => (
          <option key={r.id} value={r.name} />
        ))}
      </datalist>
    </>
  );
}
