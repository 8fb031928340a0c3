import { readForm } from '#app/http';
import { Refusal } from '#app/refusal';
import { MOST_CLIP_BYTES } from '#features/results/model/coolers/clip';

/** Parts of a form with a clip, bounded. */
export async function readClipForm(request: Request): Promise<{ name: string; clip: Uint8Array; about: unknown }> {
  const { form, about } = await readForm(request, 'clip', MOST_CLIP_BYTES, MOST_CLIP_BYTES + 65_536);
  const file = form.get('clip');
  if (!(file instanceof File)) throw new Refusal('The clip is missing.');
  return { name: file.name, clip: new Uint8Array(await file.arrayBuffer()), about };
}
