/** Files beyond this size are not hashed in the browser; the server tells of a repetition when they arrive. */
const MOST_HASHED = 32 * 1024 * 1024;

/** A run that rests on a file already. */
export interface KnownRun {
  run_id: number;
  run: string;
}

/** The SHA-256 of a file in hexadecimal; null where it is too large to be hashed here. */
export async function hashOf(file: File): Promise<string | null> {
  if (file.size > MOST_HASHED) return null;
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', await file.arrayBuffer()));
  return Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
}

/** The run that already rests on a file; null where there is none, or the store does not say. */
export async function knownRun(sha: string | null): Promise<KnownRun | null> {
  if (sha === null) return null;
  const response = await fetch(`/api/logs/${sha}`).catch(() => null);
  if (!response?.ok) return null;
  const body = await response.json();
  return body.run_id ? body : null;
}
