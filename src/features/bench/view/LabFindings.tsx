import { useEffect, useState } from 'react';
import type { LabFinding } from '#features/ranking/server/labFindings';

/** Says where the reference does not read as it did. It is asked for once the bench stands, so that nothing waits for it. */
export function LabFindings() {
  const [found, setFound] = useState<LabFinding[]>([]);
  useEffect(() => {
    void fetch('/api/ranking/findings')
      .then((r) => (r.ok ? r.json() : []))
      .then(setFound)
      .catch(() => {});
  }, []);
  return found.map(({ key, setup, reference, sentence }) => (
    <p key={key} role="note" className="mt-6 max-w-4xl border-l-4 border-ember pl-4">
      <a href="/ranking/lab" className="font-semibold underline">
        {reference} on {setup}
      </a>{' '}
      does not read as it did. {sentence}
    </p>
  ));
}
