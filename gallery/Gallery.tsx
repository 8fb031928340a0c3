import { useState } from 'react';
import { Line } from 'recharts';
import type { Finding } from '#core/compare/types';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { FindingList } from '#ui/FindingList.tsx';
import { Act, Alert, ChoiceBox, NumberBox, Quiet, TextArea, TextBox, TextButton, Tick } from '#ui/Form.tsx';
import { NumberChart } from '#ui/NumberChart.tsx';
import { SortTable, sortColumns } from '#ui/SortTable.tsx';
import { SpecimenMark, SpecimenName } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { CheckedLink, Facts, Figure, Section, Sentences, Told } from '#ui/Words.tsx';

interface Row {
  name: string;
  rise: number;
  mounts: number;
}

const ROWS: Row[] = [
  { name: 'Wick 60', rise: 38.7, mounts: 5 },
  { name: 'Loam White', rise: 41.3, mounts: 5 },
  { name: 'Slip Felt 0.5, cut to the lid and laid on twice', rise: 48.1, mounts: 1 },
];
const column = sortColumns<Row>();
const COLUMNS = [
  column.accessor('name', { header: 'Specimen' }),
  column.accessor('rise', { header: 'ΔT / K' }),
  column.accessor('mounts', { header: 'Mounts' }),
];
const FINDINGS: Finding[] = (['note', 'warn', 'decide', 'reject'] as const).map((severity) => ({
  ...{ code: `a_${severity}`, severity, message: `A finding that asks for ${severity}: 2.3 K; up to 1.0 K is allowed.` },
}));
const CHOICES = [['mean', 'Window mean'] as const, ['peak', 'Peak'] as const];

/** Every piece of `ui` in all its states. It is there in development alone. */
export function Gallery() {
  const [text, setText] = useState('Loam White');
  const [number, setNumber] = useState('140');
  const [choice, setChoice] = useState<string>('mean');
  const [on, setOn] = useState(true);
  return (
    <>
      <h1 className="mt-6 text-verdict font-semibold">Pieces of the interface</h1>
      <Section id="buttons" title="Buttons" className="mt-8">
        <div className="flex flex-wrap items-center gap-3">
          <Act>Store</Act>
          <Act disabled>Store</Act>
          <Quiet>Duplicate</Quiet>
          <Quiet disabled>Duplicate</Quiet>
          <TextButton>Take theirs</TextButton>
        </div>
        <Alert>The file holds no column of times.</Alert>
        <Alert>{null}</Alert>
      </Section>
      <Section id="fields" title="Fields" className="mt-8">
        <div className="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
          <TextBox label="Name" value={text} onChange={setText} />
          <TextBox label="With a hint" hint="as it stands on the pack" value={text} onChange={setText} />
          <TextBox label="Refused" error="A name of 1 to 80 characters." value="" onChange={setText} />
          <TextBox label="Not now" disabled value={text} onChange={setText} />
          <NumberBox label="Power / W" min={1} max={1000} value={number} onChange={setNumber} />
          <NumberBox label="Out of its range / W" min={1} max={10} value={number} onChange={setNumber} />
          <ChoiceBox label="Value" choices={CHOICES} value={choice} onChange={setChoice} />
          <TextArea label="Words" rows={3} value={text} onChange={setText} />
        </div>
        <Tick words="Ticked" checked={on} onChange={setOn} />
        <Tick words="Not now" checked={false} disabled onChange={setOn} />
        <Tick hand words="For a gloved finger" checked={on} onChange={setOn} />
        <Tick name="of" words="One of two" checked={on} onChange={() => setOn(true)} />
        <Tick name="of" words="The other" checked={!on} onChange={() => setOn(false)} />
      </Section>
      <Section id="marks" title="Marks and figures" className="mt-8">
        <div className="flex flex-wrap items-center gap-3">
          {Array.from({ length: 10 }, (_, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a mark is its position
            <SpecimenMark key={i} position={i} hollow={i % 2 === 1} />
          ))}
          <SpecimenName name="Wick 60" position={3} />
        </div>
        <p className="flex flex-wrap items-end gap-4">
          {(['text', 'name', 'title', 'large'] as const).map((size) => (
            <Figure key={size} value="38.7" unit="K" size={size} />
          ))}
        </p>
        <dl className="grid gap-4 sm:grid-cols-3">
          <Told name="Force" value="230" unit="N" />
          <Told name="Pressure" value={null} unit="kPa" />
          <Told name="With a note" value="12" unit="K" note="at 20 °C" />
        </dl>
        <Facts
          facts={[
            { name: 'Peak', value: '41.2', unit: 'K' },
            { name: 'Fixed time', value: null, none: 'no time is set' },
          ]}
        />
        <Sentences list={['Wick 60 runs 2.6 K cooler than Loam White; firm.', 'The others are tied.']} />
        <CheckedLink subject="verdicts" />
      </Section>
      <Section id="findings" title="Findings" className="mt-8">
        <FindingList findings={FINDINGS} />
        <FindingList findings={[]} />
      </Section>
      <Section id="tables" title="Tables and charts" className="mt-8">
        <Table
          label="Specimens"
          caption="Every column of its kind"
          rows={ROWS}
          keyOf={(r) => r.name}
          columns={[
            { head: 'Specimen', names: true, cell: (r) => r.name },
            { head: 'ΔT / K', figure: true, cell: (r) => r.rise },
            { head: 'Mounts', figure: true, wide: true, cell: (r) => r.mounts },
            false,
          ]}
        />
        <SortTable label="Specimens, to be sorted" columns={COLUMNS} rows={ROWS} numeric={new Set(['rise', 'mounts'])} />
        <ChartFrame
          title="A course"
          note="Dots: readings."
          table={{
            columns: ['Time / s', 'ΔT / K'],
            rows: [
              [0, 0],
              [60, 30],
            ],
          }}
        >
          <NumberChart
            title="A course"
            height={220}
            x={{ key: 'x', name: 'Time / s', low: 0, high: 60, ticks: [0, 30, 60] }}
            y={{ key: 'y', name: 'ΔT / K', low: 0, high: 40, ticks: [0, 20, 40] }}
          >
            <Line
              data={[
                { x: 0, y: 0 },
                { x: 60, y: 30 },
              ]}
              dataKey="y"
              stroke="var(--ink)"
              isAnimationActive={false}
            />
          </NumberChart>
        </ChartFrame>
      </Section>
    </>
  );
}
