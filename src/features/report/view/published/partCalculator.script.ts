import { keepUnits } from '#core/text/words';
import { type PartCalculator, pairOf } from '#features/ranking/model/partCalculator';
import type { PressureClass } from '#features/ranking/model/pressure';
import { partCautions, partProblem, partSentence, type ReadersPart } from '#features/ranking/model/readersPart';
import type { Contact } from '#features/shelf/model/contacts';

/** What answers on a published page: it reads the fields, and writes the sentence. */

const byId = (id: string) => document.getElementById(id);
const valueIn = (id: string): string => (byId(id) as HTMLInputElement | HTMLSelectElement).value.trim();

/** A number of a field with its decimal comma or point; null where it is none within its range. */
function numberOf(id: string, min: number, max: number): number | null {
  const text = valueIn(id).replace(',', '.');
  const value = Number(text);
  return text !== '' && value >= min && value <= max ? value : null;
}

function answer(known: PartCalculator): { says: string; cautions: string } {
  const [power_w, area_mm2] = [numberOf('part-power', 0.01, 100_000), numberOf('part-area', 1, 100_000)];
  if ((power_w === null && valueIn('part-power') !== '') || (area_mm2 === null && valueIn('part-area') !== ''))
    return { says: 'Power is a number from 0.01 to 100 000 W, the area one from 1 to 100 000 mm².', cautions: '' };
  if (power_w === null || area_mm2 === null) return { says: '', cautions: '' };
  const part: ReadersPart = {
    ...{ power_w, area_mm2, contact: valueIn('part-contact') as Contact },
    pressure: (valueIn('part-pressure') || null) as PressureClass | null,
  };
  const refusal = partProblem(part, known.measured);
  if (refusal) return { says: refusal, cautions: '' };
  const [a, b] = [valueIn('part-a'), valueIn('part-b')];
  const told = pairOf(known, a, b);
  if (!told) return { says: 'Choose two different materials.', cautions: '' };
  return { says: keepUnits(partSentence(part, told, a, b)), cautions: partCautions(part, known.measured).join(' ') };
}

const [form, data] = [byId('part-form'), byId('part-data')];
if (form && data?.textContent) {
  const known: PartCalculator = JSON.parse(data.textContent);
  const write = () => {
    const { says, cautions } = answer(known);
    (byId('part-says') as HTMLElement).textContent = says;
    (byId('part-cautions') as HTMLElement).textContent = cautions;
  };
  form.addEventListener('input', write);
  form.hidden = false;
}
