import { useEffect, useState } from 'react';
import { bytesWords } from '#core/text/bytesWords';
import { plural } from '#core/text/words';
import { agoWords } from '#features/bench/model/backupWords';
import type { BackupsView } from '#features/bench/server/backups';
import { Act, Alert, Quiet } from '#ui/Form.tsx';
import { Moment } from '#ui/Moment.tsx';
import { sendJson } from '#ui/send';

const LOOK_MS = 1000;

/** Backups of the store in the settings: how old the newest is, all that are kept, and one more by hand. */
export function BackupsPart({ initial }: { initial: BackupsView }) {
  const [view, setView] = useState(initial);
  const [told, setTold] = useState<string | null>(null);
  const running = view.running !== null;
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(async () => {
      const answer = await fetch('/api/backups').catch(() => null);
      if (answer?.ok) setView(await answer.json());
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, [running]);
  const ask = async (method: 'POST' | 'DELETE') => {
    const next = await sendJson<BackupsView>(method, '/api/backups', {}, setTold);
    if (next) setView(next);
  };
  const [newest] = view.kept;
  return (
    <section className="section-rule mt-10" aria-labelledby="backups">
      <h2 id="backups" className="text-name font-semibold">
        Backups
      </h2>
      {view.warning && <Alert className="mt-3">{view.warning}</Alert>}
      {view.folder === null ? (
        <p className="mt-1 max-w-3xl">
          The store is kept elsewhere (DATABASE_URL), so whoever keeps it sees to its backups. To have one made here every day, name a
          folder with WARM_GAUGE_BACKUPS and start again.
        </p>
      ) : (
        <>
          <p className="mt-1 max-w-3xl">
            {newest ? (
              <>
                The newest was made <Made at={newest.at} />, {bytesWords(newest.bytes)}. {plural(view.kept.length, 'backup')} in{' '}
                <code className="break-all">{view.folder}</code>.
              </>
            ) : (
              <>
                None yet in <code className="break-all">{view.folder}</code>.
              </>
            )}{' '}
            {view.daily ? 'One is made every day while Warm Gauge runs.' : 'None is made by itself: it is off above.'}
          </p>
          {view.problem && !running && <Alert className="mt-3">The last attempt failed: {view.problem}.</Alert>}
          <div className="mt-3 flex flex-wrap items-center gap-4">
            {running ? <Quiet onClick={() => ask('DELETE')}>Cancel backup</Quiet> : <Act onClick={() => ask('POST')}>Back up now</Act>}
            <span role="status" className="text-soft">
              {running && `${bytesWords(view.running ?? 0)} so far`}
            </span>
          </div>
          {told && <Alert className="mt-3">{told}</Alert>}
          {newest && (
            <details className="mt-4">
              <summary className="cursor-pointer">All backups</summary>
              <ul className="mt-2">
                {view.kept.map(({ name, at, bytes }) => (
                  <li key={name} className="py-1">
                    <a href={`/api/backups/${name}`} download={name} className="underline decoration-soft">
                      {name}
                    </a>{' '}
                    <span className="text-soft">
                      <Made at={at} />, {bytesWords(bytes)}
                    </span>
                  </li>
                ))}
              </ul>
            </details>
          )}
          <p className="mt-3 max-w-3xl text-soft">
            A backup on the same disk is lost with it: download one now and then, or name a folder on another disk with WARM_GAUGE_BACKUPS.
            To put one back, stop Warm Gauge and run <code>./warm-gauge restore FILE</code>.
          </p>
        </>
      )}
    </section>
  );
}

/** A moment, and how long ago it was where that is under a day: the page's own clock says so once it is in the browser. */
function Made({ at }: { at: string }) {
  const [ago, setAgo] = useState<string | null>(null);
  useEffect(() => setAgo(agoWords(new Date(at).getTime(), Date.now())), [at]);
  return (
    <>
      <Moment at={at} />
      {ago && ` (${ago})`}
    </>
  );
}
