import { Line, LineChart, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { write, writeSigned } from '#core/text/words';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { Field, Tick } from '#ui/Form.tsx';
import { minuteTicks } from '#ui/TraceChart.tsx';
import type { Preview, PreviewClock } from './preview.worker';

interface ClockPanelProps {
  preview: Preview;
  /** files beside the first */
  files: File[];
  offsets: Record<string, number>;
  onOffsets: (offsets: Record<string, number>) => void;
  /** files whose place on the clock a person has looked at */
  confirmed: string[];
  onConfirmed: (files: string[]) => void;
}

/** How further files were put on the first file's clock, with a picture to see whether their steps stand above each other. */
export function ClockPanel({ preview, files, offsets, onOffsets, confirmed, onConfirmed }: ClockPanelProps) {
  const set = (file: string, text: string) => {
    const value = Number(text.replace(',', '.').replace('−', '-'));
    const { [file]: _, ...others } = offsets;
    onOffsets(text.trim() === '' || !Number.isFinite(value) ? others : { ...others, [file]: value });
  };
  const asked = preview.asks === 'clock_offset' ? files.filter((f) => f.name === preview.asked_of || offsets[f.name] !== undefined) : [];
  return (
    <section aria-labelledby="clocks" className="flex flex-col gap-4">
      <h3 id="clocks" className="text-name font-semibold">
        One clock
      </h3>
      {preview.clocks.map((clock) => (
        <div key={clock.file}>
          <p>
            {clock.how === 'times' &&
              `${clock.file} and the first file both contain date and time: it begins ${write(clock.offset_s, 1)} s after it.`}
            {clock.how === 'hand' && `${clock.file} was shifted by hand: ${writeSigned(clock.offset_s, 1)} s.`}
            {clock.how === 'load' && (
              <>
                {clock.file} tells no date. It was put where the changes of load agree best, {writeSigned(clock.offset_s, 1)} s (agreement{' '}
                {write(clock.correlation ?? 0, 2)} of 1). <strong>Check that the steps line up.</strong>
              </>
            )}
          </p>
          <ClockPicture clock={clock} />
          <div className="flex flex-wrap items-end gap-4">
            <Offset file={clock.file} value={offsets[clock.file]} onText={(text) => set(clock.file, text)} />
            {clock.how === 'load' && (
              <Tick
                words="The steps agree"
                className="font-semibold"
                checked={confirmed.includes(clock.file)}
                onChange={(on) => onConfirmed(on ? [...confirmed, clock.file] : confirmed.filter((f) => f !== clock.file))}
              />
            )}
          </div>
        </div>
      ))}
      {asked.map((f) => (
        <Offset key={f.name} file={f.name} value={offsets[f.name]} onText={(text) => set(f.name, text)} />
      ))}
    </section>
  );
}

const Offset = ({ file, value, onText }: { file: string; value: number | undefined; onText: (text: string) => void }) => (
  <Field label={`Seconds to add to ${file}`} hint="empty: found automatically">
    {(p) => (
      <input {...p} className="field figure w-32" inputMode="decimal" defaultValue={value ?? ''} onChange={(e) => onText(e.target.value)} />
    )}
  </Field>
);

/** What follows the load in both files, each scaled to its own range, on one time axis. */
function ClockPicture({ clock }: { clock: PreviewClock }) {
  const { first, own } = clock.lines;
  if (!first || !own) return null;
  const points = (line: NonNullable<typeof first>) => line.t.map((t, i) => ({ t, v: line.v[i] }));
  const names = [`First file: ${first.name}`, `${clock.file}: ${own.name}`];
  const times = [...first.t, ...own.t];
  const range: [number, number] = [Math.min(...times), Math.max(...times)];
  const rows = [first, own].flatMap((line, k) => line.t.map((t, i) => [names[k], t, line.v[i]]));
  return (
    <ChartFrame title={`Clock of ${clock.file}`} table={{ columns: ['Series', 'Time / s', 'Share of its range'], rows }}>
      <p className="flex flex-wrap gap-x-6 text-note" aria-hidden="true">
        <span className="flex items-center gap-2">
          <span className="inline-block h-[3px] w-7 bg-ink" /> {names[0]}
        </span>
        <span className="flex items-center gap-2">
          <span className="inline-block w-7 border-t-[3px] border-dashed border-ember" /> {names[1]}
        </span>
      </p>
      <ResponsiveContainer width="100%" height={150}>
        <LineChart
          margin={{ top: 6, right: 12, bottom: 18, left: 0 }}
          accessibilityLayer
          title={`Load in both files: ${names.join(' and ')}`}
        >
          <XAxis
            dataKey="t"
            type="number"
            domain={range}
            ticks={minuteTicks(range)}
            tick={{ fill: 'var(--soft)', fontSize: 13 }}
            tickFormatter={(s: number) => String(Number((s / 60).toFixed(2)))}
            label={{ value: 'Time / min', position: 'insideBottom', offset: -12, fill: 'var(--soft)', fontSize: 13 }}
          />
          <YAxis
            domain={[0, 1]}
            ticks={[0, 1]}
            width={64}
            tick={{ fill: 'var(--soft)', fontSize: 13 }}
            tickFormatter={(v: number) => (v === 0 ? 'lowest' : 'highest')}
          />
          <Line
            data={points(first)}
            dataKey="v"
            stroke="var(--ink)"
            strokeWidth={2}
            dot={false}
            isAnimationActive={false}
            type="linear"
            name={names[0]}
          />
          <Line
            data={points(own)}
            dataKey="v"
            stroke="var(--ember)"
            strokeWidth={2.5}
            strokeDasharray="7 4"
            dot={false}
            isAnimationActive={false}
            type="linear"
            name={names[1]}
          />
        </LineChart>
      </ResponsiveContainer>
    </ChartFrame>
  );
}
