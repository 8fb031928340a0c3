import { PRESSURE_CLASSES, type PressureClass } from '#features/ranking/model/pressure';
import { CONTACTS, type Contact } from '#features/shelf/model/contacts';
import { ChoiceBox, numberWithin, TextBox } from '#ui/Form.tsx';

/** What is typed of a reader's part. */
export interface PartTexts {
  power: string;
  area: string;
  contact: Contact;
  pressure: PressureClass | '';
}

export const NO_PART: PartTexts = { power: '', area: '', contact: 'lid', pressure: '' };

export const powerOf = (p: PartTexts): number | null => numberWithin(p.power, 0.01, 100_000);
export const areaOf = (p: PartTexts): number | null => numberWithin(p.area, 1, 100_000);

const CONTACT_CHOICES = Object.entries(CONTACTS) as [Contact, string][];
const PRESSURES: [PressureClass | '', string][] = [
  ['', 'not known'],
  ...(Object.entries(PRESSURE_CLASSES) as [PressureClass, { name: string }][]).map(([k, c]): [PressureClass, string] => [k, c.name]),
];

/** A part of one's own: what its kelvins are told for. */
export function PartBar({ part, onChange }: { part: PartTexts; onChange: (part: PartTexts) => void }) {
  const wrong = (text: string, value: number | null, says: string) => (text.trim() !== '' && value === null ? says : undefined);
  return (
    <div className="grid max-w-3xl grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4">
      <TextBox
        label="Power / W"
        className="figure"
        inputMode="decimal"
        value={part.power}
        error={wrong(part.power, powerOf(part), 'A number from 0.01 to 100 000.')}
        onChange={(power) => onChange({ ...part, power })}
      />
      <TextBox
        label="Contact area / mm²"
        className="figure"
        inputMode="decimal"
        value={part.area}
        error={wrong(part.area, areaOf(part), 'A number from 1 to 100 000.')}
        onChange={(area) => onChange({ ...part, area })}
      />
      <ChoiceBox label="Contact" value={part.contact} choices={CONTACT_CHOICES} onChange={(contact) => onChange({ ...part, contact })} />
      <ChoiceBox
        label="Contact pressure"
        value={part.pressure}
        choices={PRESSURES}
        onChange={(pressure) => onChange({ ...part, pressure })}
      />
    </div>
  );
}
