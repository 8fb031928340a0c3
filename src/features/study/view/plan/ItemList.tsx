import { Plus, X } from 'lucide-react';
import type { ReactNode } from 'react';
import type { PlanKey } from '#features/study/model/studyPlan';
import { Quiet } from '#ui/Form.tsx';
import { Conflict } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

interface ItemListProps<T> {
  desk: PlanDesk;
  field: PlanKey;
  /** what one item is, for its buttons */
  one: string;
  fresh: () => T;
  empty: string;
  children: (item: T, change: (part: Partial<T>) => void, index: number) => ReactNode;
}

/** A list in the plan: items are added, changed and taken out; the list is stored once all of it keeps its rules. */
export function ItemList<T extends object>({ desk, field, one, fresh, empty, children }: ItemListProps<T>) {
  const items = (desk.typed(field) as T[] | null | undefined) ?? [];
  const put = (next: T[]) => desk.set(field, next);
  return (
    <div>
      {items.length === 0 && <p className="text-soft">{empty}</p>}
      <ul>
        {items.map((item, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: items have no identity but their place
          <li key={i} className="flex items-start gap-3 border-b border-rule py-2">
            <div className="min-w-0 flex-1">
              {children(item, (part) => put(items.map((other, j) => (j === i ? { ...other, ...part } : other))), i)}
            </div>
            <Quiet aria-label={`Delete ${one} ${i + 1}`} onClick={() => put(items.filter((_, j) => j !== i))}>
              <X size={16} aria-hidden="true" />
            </Quiet>
          </li>
        ))}
      </ul>
      {desk.errors[field] && (
        <p role="alert" className="text-note font-semibold text-ember">
          {desk.errors[field]}
        </p>
      )}
      <Conflict desk={desk} field={field} />
      <Quiet className="mt-2 inline-flex items-center gap-2" onClick={() => put([...items, fresh()])}>
        <Plus size={16} aria-hidden="true" />
        Add {one}
      </Quiet>
    </div>
  );
}

interface CellProps {
  label: string;
  value: string | number | null | undefined;
  onChange: (value: string) => void;
  number?: boolean;
  wide?: boolean;
}

/** A small labelled input within an item. */
export const ItemCell = ({ label, value, onChange, number, wide }: CellProps) => (
  <label className={`text-note ${wide ? 'w-56' : number ? 'w-24' : 'w-40'}`}>
    <span className="block text-soft">{label}</span>
    <input
      className={`field w-full text-base ${number ? 'figure' : ''}`}
      inputMode={number ? 'decimal' : undefined}
      value={value ?? ''}
      onChange={(e) => onChange(e.target.value)}
    />
  </label>
);

/** What a number cell holds: empty is nothing, a decimal comma is taken; other text stays, to be told by its rule. */
export function toNumber(text: string): number | null {
  const plain = text.trim().replace(',', '.').replace('−', '-');
  if (plain === '') return null;
  const number = Number(plain);
  // an unfinished number such as "3." stays as it is typed
  return Number.isFinite(number) && !/[.]0*$/.test(plain) ? number : (text as unknown as number);
}
