interface VersionNotesProps {
  number: number;
  /** ISO 8601 in UTC */
  frozen_at: string;
  /** who published it; empty where that is not said */
  by: string;
  sha256: string;
  changes: string[];
}

/** What stands below a published version: when, by whom, its checksum, and what changed since the one before. */
export const VersionNotes = ({ number, frozen_at, by, sha256, changes }: VersionNotesProps) => (
  <>
    <p>
      {`Version ${number}, published ${frozen_at.slice(0, 16).replace('T', ' ')} UTC${by && ` by ${by}`}. SHA-256 of its content: `}
      <span className="figure break-all">{sha256}</span>
    </p>
    {changes.length > 0 && (
      <>
        <h2 className="mt-3 font-semibold">What changed since version {number - 1}</h2>
        <ul className="list-disc pl-5">
          {changes.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      </>
    )}
  </>
);
