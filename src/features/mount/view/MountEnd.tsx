import { plural } from '#core/text/words';
import { FAILURE_CAUSES } from '#features/mount/model/failure';
import { Alert, Quiet } from '#ui/Form.tsx';
import { TryEnd } from './TryEnd.tsx';
import type { MountDesk } from './useMount';

/** What a mount without a try under way can do next: run, be lifted and mounted anew, or be judged failed. */
export function MountEnd({ desk }: { desk: MountDesk }) {
  const { mount, past } = desk.view;
  const cause = mount.failed_cause;
  return (
    <div className="pt-5">
      <p className="text-verdict font-semibold">
        {cause ? 'This mount failed.' : past.length === 0 ? 'This mount was made without a sheet.' : 'This mount is ready.'}
      </p>
      <p className="mt-1 text-soft">
        {mount.runs === 0 ? (
          'It has no run yet: run it live, or drop a log here or on any page.'
        ) : (
          <a className="underline" href={`/studies/${mount.study_id}/runs`}>
            It has {plural(mount.runs, 'run')}
          </a>
        )}
        {mount.excluded_reason && ` Left out of the means: ${mount.excluded_reason}.${cause ? ' It counts in the failure rate.' : ''}`}
      </p>
      {cause && <p className="mt-1">{FAILURE_CAUSES[cause].next}</p>}
      <div className="mt-4 flex flex-wrap gap-3">
        {mount.runs > 0 && (
          <Quiet className="min-h-12" onClick={() => void desk.remount(null)}>
            Remount (cooler was lifted)
          </Quiet>
        )}
        {past.length === 0 && (
          <Quiet className="min-h-12" disabled={desk.busy} onClick={() => void desk.begin()}>
            Write down how it was made
          </Quiet>
        )}
        {mount.excluded_reason && (
          <Quiet className="min-h-12" onClick={() => void desk.judge(null)}>
            Include again
          </Quiet>
        )}
      </div>
      {mount.runs === 0 && past.length > 0 && (
        <TryEnd
          outcome
          words="Remount (it failed or was lifted before a run) …"
          submit="Keep this try and begin another"
          onEnd={async (failure) => void (await desk.begin(failure))}
        />
      )}
      {mount.runs > 0 && !mount.excluded_reason && (
        <TryEnd
          words="Mark as failed because of its temperatures …"
          submit="It failed: plan a new mount"
          onEnd={(failure) => desk.remount(failure)}
          also={{ words: 'It failed: no new mount', onEnd: async (failure) => void (await desk.judge(failure)) }}
        />
      )}
      <Alert className="mt-3">{desk.told}</Alert>
    </div>
  );
}
