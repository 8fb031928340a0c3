import { database, transaction } from '#app/database/pool';
import { damaged, Refusal } from '#app/refusal';
import { ClipAbout, type ClipKind, clipKind, MOST_CLIP_BYTES } from '#features/results/model/coolers/clip';
import { insertSoundClip, readSoundClip, setClipRemoved } from '#features/results/store/soundClips';
import { check } from '#rules/validation';

const MOST_PER_SPECIMEN = 12;

/** Keeps a clip of a cooler. */
export async function saveSoundClip(specimenId: number, name: string, bytes: Uint8Array, given: unknown): Promise<{ id: number }> {
  const about = check(ClipAbout, given);
  if (bytes.length > MOST_CLIP_BYTES)
    throw new Refusal(`The clip is larger than the ${MOST_CLIP_BYTES / 1_048_576} MB that are accepted; ten seconds are enough.`, 413);
  const kind = clipKind(bytes);
  if (!kind) throw new Refusal('This file cannot be played as a clip; WAV, FLAC, Ogg, MP3 and M4A can.');
  const clip = {
    specimen_id: specimenId,
    name: name.slice(0, 200) || 'clip',
    kind,
    rpm: about.rpm ?? null,
    level_db: about.level_db ?? null,
  };
  const id = await transaction((client) => insertSoundClip(client, { ...clip, note: about.note?.trim() ?? '', bytes }, MOST_PER_SPECIMEN));
  if (id === null) throw new Refusal(`There is no specimen ${specimenId}.`, 404);
  if (id === 'full') throw new Refusal(`A specimen holds up to ${MOST_PER_SPECIMEN} clips; delete one first.`, 409);
  return { id };
}

/**
 * The bytes of a clip and what they are.
 * @throws Refusal 404 where there is none
 */
export async function soundClip(id: number): Promise<{ kind: ClipKind; bytes: Buffer }> {
  const clip = await readSoundClip(database(), id);
  if (!clip) throw new Refusal(`There is no clip ${id}.`, 404);
  if (!clip.intact) throw damaged(`Clip ${id}`);
  return clip;
}

/** Takes a clip out, or puts it back. */
export async function removeSoundClip(id: number, removed: unknown): Promise<{ ok: true }> {
  if (!(await setClipRemoved(database(), id, removed !== false))) throw new Refusal(`There is no clip ${id}.`, 404);
  return { ok: true };
}
