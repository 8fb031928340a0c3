import { INTERFACES, type InterfaceState } from '#features/mount/model/attempt';
import { Tick } from '#ui/Form.tsx';

interface InterfaceChoicesProps {
  neighbours: string[];
  told: Record<string, InterfaceState>;
  onTell: (name: string, how: InterfaceState) => void;
}

/** What became of each interface that lifting the cooler separated, beside the one that is tested. */
export const InterfaceChoices = ({ neighbours, told, onTell }: InterfaceChoicesProps) => (
  <div className="mt-4">
    <p>Lifting the cooler also opens the neighbouring interfaces. What was done with each?</p>
    {neighbours.map((name) => (
      <fieldset key={name} className="border-b border-rule py-2">
        <legend className="font-semibold">{name}</legend>
        <div className="flex flex-wrap gap-x-5">
          {(Object.keys(INTERFACES) as InterfaceState[]).map((how) => (
            <Tick
              key={how}
              hand
              words={INTERFACES[how]}
              name={`interface ${name}`}
              checked={told[name] === how}
              onChange={() => onTell(name, how)}
            />
          ))}
        </div>
      </fieldset>
    ))}
  </div>
);
