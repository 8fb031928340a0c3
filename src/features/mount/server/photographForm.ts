import { readForm } from '#app/http';
import { Refusal } from '#app/refusal';
import { MOST_PHOTO_BYTES } from '#features/mount/model/imprint';

/** A photograph, its view and what is said about it. */
const MOST_FORM_BYTES = MOST_PHOTO_BYTES + 4 * 1024 * 1024;

/** Parts of a form with a photograph, bounded: the picture, what is said about it, and the part seen from above. */
export async function readPhotographForm(request: Request): Promise<{ photo: Uint8Array | null; about: unknown; view: Uint8Array | null }> {
  const { form, about } = await readForm(request, 'photograph', MOST_PHOTO_BYTES, MOST_FORM_BYTES);
  const bytes = async (name: string) => {
    const file = form.get(name);
    return file instanceof File ? new Uint8Array(await file.arrayBuffer()) : null;
  };
  return { photo: await bytes('photo'), about, view: await bytes('view') };
}

/** The same where the picture must be there. */
export async function readPhotograph(request: Request): Promise<{ photo: Uint8Array; about: unknown; view: Uint8Array | null }> {
  const { photo, ...rest } = await readPhotographForm(request);
  if (!photo) throw new Refusal('The photograph is missing.');
  return { photo, ...rest };
}
