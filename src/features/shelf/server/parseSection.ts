import { Refusal } from '#app/refusal';
import { isSection, type SectionKey } from '#features/shelf/model/sections';

/** A section of the shelf from a path. */
export function parseSection(text: string | undefined): SectionKey {
  if (!isSection(text)) throw new Refusal(`The shelf has no section "${text ?? ''}".`, 404);
  return text;
}
