import type { ReportVersion } from '#features/report/server/freeze';

/** Published versions of a report, the newest first, with what changed in each. */
export function VersionList({ versions }: { versions: ReportVersion[] }) {
  if (versions.length === 0) return <p className="mt-6 text-soft">No version is published yet.</p>;
  return (
    <>
      <h2 className="mt-6 text-name font-semibold">Published</h2>
      <ol>
        {versions.map((v) => (
          <li key={v.number} className="border-b border-rule py-1.5">
            <a href={`/reports/${v.address}`} className="font-semibold underline">
              Version {v.number}
            </a>{' '}
            <span className="text-soft">
              {v.frozen_at.slice(0, 10)}
              {v.who && `, ${v.who}`}
            </span>
            <span className="figure block text-note break-all text-soft">sha256 {v.sha256.slice(0, 16)}…</span>
          </li>
        ))}
      </ol>
    </>
  );
}
