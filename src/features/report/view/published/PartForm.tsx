import type { PartCalculator } from '#features/ranking/model/partCalculator';
import { PRESSURE_CLASSES } from '#features/ranking/model/pressure';
import { embeddedJson } from '#features/report/model/published';
import { CONTACTS } from '#features/shelf/model/contacts';

const FIELD = 'field mt-1 w-full';

/** The calculator of a published page: fields that its script answers to, hidden where no script runs. */
export function PartForm({ part }: { part: PartCalculator }) {
  const { materials } = part;
  const choices = (names: string[]) => names.map((m) => <option key={m}>{m}</option>);
  return (
    <div id="part-form" hidden className="print:hidden">
      <div className="grid max-w-3xl grid-cols-2 gap-x-4 gap-y-2 sm:grid-cols-4">
        <div>
          <label htmlFor="part-power" className="font-semibold">
            Power / W
          </label>
          <input id="part-power" className={`${FIELD} figure font-normal`} inputMode="decimal" autoComplete="off" />
        </div>
        <div>
          <label htmlFor="part-area" className="font-semibold">
            Contact area / mm²
          </label>
          <input id="part-area" className={`${FIELD} figure font-normal`} inputMode="decimal" autoComplete="off" />
        </div>
        <div>
          <label htmlFor="part-contact" className="font-semibold">
            Contact
          </label>
          <select id="part-contact" className={`${FIELD} font-normal`}>
            {Object.entries(CONTACTS).map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        </div>
        <div>
          <label htmlFor="part-pressure" className="font-semibold">
            Contact pressure
          </label>
          <select id="part-pressure" className={`${FIELD} font-normal`}>
            <option value="">not known</option>
            {Object.entries(PRESSURE_CLASSES).map(([key, { name }]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </select>
        </div>
      </div>
      <div className="mt-2 grid max-w-xl grid-cols-2 gap-4">
        <div>
          <label htmlFor="part-a" className="font-semibold">
            Material
          </label>
          <select id="part-a" className={`${FIELD} font-normal`} defaultValue={materials[0]}>
            {choices(materials)}
          </select>
        </div>
        <div>
          <label htmlFor="part-b" className="font-semibold">
            compared with
          </label>
          <select id="part-b" className={`${FIELD} font-normal`} defaultValue={materials.at(-1)}>
            {choices(materials)}
          </select>
        </div>
      </div>
      <p id="part-says" role="status" className="mt-3 text-name font-semibold" />
      <p id="part-cautions" className="text-soft" />
      <script
        id="part-data"
        type="application/json"
        // biome-ignore lint/security/noDangerouslySetInnerHtml: every sign that could end it is escaped
        dangerouslySetInnerHTML={{ __html: embeddedJson(part) }}
      />
    </div>
  );
}
