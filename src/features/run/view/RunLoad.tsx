import { useId, useState } from 'react';
import { Options } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { useSeen } from '#ui/useSeen';

/** Under which of the study's loads the run was made; stored as it is chosen. */
export function RunLoad({ run, load, loads }: { run: number; load: string | null; loads: string[] }) {
  const id = useId();
  const [chosen, setChosen] = useState(load);
  const { seen, refused } = useSeen(chosen);
  const [told, setTold] = useState<string | null>(null);
  const store = async (next: string) => {
    if (await sendJson('PUT', `/api/runs/${run}/load`, { load: next, seen: seen() }, setTold, refused)) setChosen(next);
  };
  return (
    <div className="mt-2 flex items-center gap-2">
      <label htmlFor={id} className="text-soft">
        Load
      </label>
      <select id={id} className="field" value={chosen ?? loads[0]} onChange={(e) => void store(e.target.value)}>
        <Options choices={loads.map((l) => [l, l] as const)} />
      </select>
      {told && <span role="alert">{told}</span>}
    </div>
  );
}
