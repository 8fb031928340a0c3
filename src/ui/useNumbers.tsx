import { type ReactElement, useState } from 'react';
import { NumberBox, numberWithin } from './Form.tsx';

export interface NumberSpec {
  label: string;
  /** what stands there first; empty where nothing does */
  start: number | string;
  min: number;
  max: number;
  hint?: string;
}

interface Numbers<Key extends string> {
  /** each value; null where it is no number or out of its range */
  values: Record<Key, number | null>;
  /** all of them; null where one is missing */
  all: Record<Key, number> | null;
  /** the box of one, with another label or hint where these depend on something */
  box: (key: Key, more?: { label?: string; hint?: string; onChange?: () => void }) => ReactElement;
  put: (key: Key, value: number | string) => void;
}

/** The numbers of a tool: typed, told with their ranges, and read as soon as they are numbers. */
export function useNumbers<Key extends string>(specs: Record<Key, NumberSpec>): Numbers<Key> {
  const keys = Object.keys(specs) as Key[];
  const of = <T,>(give: (key: Key) => T) => Object.fromEntries(keys.map((k) => [k, give(k)])) as Record<Key, T>;
  const [texts, setTexts] = useState(() => of((k) => String(specs[k].start)));
  const put = (key: Key, value: number | string) => setTexts((t) => ({ ...t, [key]: String(value) }));
  const values = of((k) => numberWithin(texts[k], specs[k].min, specs[k].max));
  const box: Numbers<Key>['box'] = (key, { onChange, ...more } = {}) => {
    const { start: _, ...spec } = specs[key];
    const type = (text: string) => {
      put(key, text);
      onChange?.();
    };
    return <NumberBox {...spec} {...more} value={texts[key]} onChange={type} />;
  };
  return { values, all: keys.every((k) => values[k] !== null) ? (values as Record<Key, number>) : null, box, put };
}
