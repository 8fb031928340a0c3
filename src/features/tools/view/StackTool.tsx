import { useState } from 'react';
import { keepUnits, plural, write } from '#core/text/words';
import { calibrateStack, dieSpread, type Stack, type StackAnswer, type StackLayer, solveStack, withLayer } from '#core/thermal/stack/stack';
import { fieldsOfLayer, type LayerField, STARTING_STACK } from '#features/tools/model/stackStart';
import { type PlateChange, plateFor, stackSentence, triedChanges } from '#features/tools/model/stackWhatIf';
import { MOST_STUDIES } from '#features/tools/model/studyStack';
import type { MeasuredWhole } from '#features/tools/server/measuredWholes';
import type { StackOfStudy } from '#features/tools/server/studyStack';
import type { layerMaterials } from '#features/tools/server/toolSetting';
import { Act, ChoiceBox, NumberBox, numberWithin, TextBox } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';
import { Section } from '#ui/Words.tsx';
import { OneFigure } from './OneFigure.tsx';

interface StackToolProps {
  materials: Awaited<ReturnType<typeof layerMaterials>>;
  wholes: MeasuredWhole[];
  /** what a study knows of its stack; absent where the tool stands alone */
  start?: StackOfStudy | null;
}

/** Where a sheet tells neither thickness nor bond line. */
const USUAL_BOND_MM = 0.045;

/** Where the kelvins go: every layer from the die to the room with its share, fitted to what was measured, and what a change would do. */
export function StackTool({ materials, wholes, start = null }: StackToolProps) {
  const [stack, setStack] = useState<Stack>(start?.stack ?? STARTING_STACK);
  const [texts, setTexts] = useState<Record<string, string>>({});
  const [told, setTold] = useState<{ ok: boolean; words: string } | null>(null);
  const [other, setOther] = useState('');
  const [plate, setPlate] = useState<Partial<PlateChange>>({});
  const answer = solveStack(stack);
  const material = materials.find((m) => m.name === other);
  const put = { ...plateFor(stack), ...plate };
  const tried = triedChanges(stack, material ? { ...material, thickness_mm: material.thickness_mm ?? USUAL_BOND_MM } : null, put);
  const shown = (id: string, value: number) => texts[id] ?? String(Number(value.toPrecision(4)));
  const type = (id: string, text: string, min: number, max: number, set: (v: number) => void) => {
    setTexts({ ...texts, [id]: text });
    const value = numberWithin(text, min, max);
    if (value !== null) set(value);
  };
  const change = (layer: StackLayer, field: LayerField, text: string) =>
    type(`${layer.key} ${field.key}`, text, field.min, field.max, (v) =>
      setStack(withLayer(stack, layer.key, (l) => ({ ...l, [field.key]: v }) as StackLayer)),
    );
  const take = (fitted: Stack) => {
    setStack(fitted);
    setTexts({});
  };
  return (
    <div>
      <p className="text-verdict leading-[1.15] font-semibold" data-testid="stack-sentence">
        {keepUnits(stackSentence(stack, answer))}
      </p>
      {start && <OneFigure start={start} stack={stack} onStack={take} />}
      <div className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-10 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <section aria-labelledby="budget">
          <h2 id="budget" className="text-name font-semibold">
            From the die to the room
          </h2>
          <Drawing stack={stack} answer={answer} />
        </section>
        <section aria-labelledby="tried">
          <h2 id="tried" className="text-name font-semibold">
            What if
          </h2>
          <div className="mt-2 grid grid-cols-2 items-start gap-x-4 gap-y-2 xl:grid-cols-4">
            <ChoiceBox
              label="Another material"
              value={other}
              onChange={setOther}
              choices={[['', 'none chosen'], ...materials.map((m) => m.name)]}
            />
            {PLATE_FIELDS.map((f) => (
              <NumberBox
                key={f.key}
                label={f.label}
                value={shown(`put ${f.key}`, put[f.key])}
                onChange={(t) => type(`put ${f.key}`, t, f.min, f.max, (v) => setPlate({ ...plate, [f.key]: v }))}
                min={f.min}
                max={f.max}
              />
            ))}
          </div>
          <Table
            className="mt-3"
            rows={tried}
            keyOf={(t) => t.name}
            columns={[
              { head: 'Changed alone', cell: (t) => t.name },
              { head: 'Die / °C', figure: true, cell: (t) => write(t.die_c, 1) },
              { head: 'Gain / K', figure: true, className: 'text-name font-semibold', cell: (t) => write(t.gain_k, 1) },
            ]}
          />
          <p className="mt-2 text-note text-soft">
            Grinding a die or taking a lid off can destroy the part; the maker’s data sheet says what it stands. Conductivities from data
            sheets tend to be measured under more pressure than a cooler gives.
          </p>
        </section>
      </div>
      <Fit stack={stack} wholes={wholes} told={told} onTold={setTold} onTake={take} />
      <Section id="layers" title="Layers" heading="mb-2 text-name" className="mt-10">
        <div className="grid max-w-xl grid-cols-2 gap-x-4">
          <NumberBox
            label="Power / W"
            value={shown('power', stack.power_w)}
            onChange={(t) => type('power', t, 0, 5000, (power_w) => setStack({ ...stack, power_w }))}
            min={0}
            max={5000}
          />
          <NumberBox
            label="Room / °C"
            value={shown('room', stack.room_c)}
            onChange={(t) => type('room', t, -50, 80, (room_c) => setStack({ ...stack, room_c }))}
            min={-50}
            max={80}
          />
        </div>
        {stack.layers.map((layer) => (
          <fieldset key={layer.key} className="mt-4 border-t border-rule pt-2">
            <legend className="float-left w-44 pt-2 font-semibold">{layer.name}</legend>
            <div className="grid grid-cols-2 gap-x-4 gap-y-2 md:ml-44 lg:grid-cols-4">
              {fieldsOfLayer(layer).map((f) => (
                <NumberBox
                  key={f.key}
                  label={f.label}
                  value={shown(`${layer.key} ${f.key}`, layer[f.key as keyof StackLayer] as unknown as number)}
                  onChange={(t) => change(layer, f, t)}
                  min={f.min}
                  max={f.max}
                />
              ))}
            </div>
          </fieldset>
        ))}
      </Section>
      <Dies answer={answer} stack={stack} />
    </div>
  );
}

const PLATE_FIELDS: { key: keyof PlateChange; label: string; min: number; max: number }[] = [
  { key: 'thickness_mm', label: 'Plate / mm', min: 0.01, max: 50 },
  { key: 'k', label: 'Plate / W/(m·K)', min: 0.05, max: 2500 },
  { key: 'paste_mm2_k_per_w', label: 'Paste / mm²·K/W', min: 0, max: 1e4 },
];

/** Each layer as tall as its kelvins, the die on top; what is too thin for its name has a line to it. */
function Drawing({ stack, answer }: { stack: Stack; answer: StackAnswer }) {
  const height = 340;
  const [top, row] = [26, 24];
  const tall = answer.layers.map((l) => l.share * height);
  const starts = tall.map((_, i) => top + tall.slice(0, i).reduce((a, b) => a + b, 0));
  const names: number[] = [];
  answer.layers.forEach((_, i) => {
    names.push(Math.max(starts[i] + tall[i] / 2, i > 0 ? names[i - 1] + row : 0));
  });
  const bottom = Math.max(top + height, (names.at(-1) ?? 0) + row / 2);
  const said = answer.layers.map((l) => `${l.name} ${write(l.rise_k, 1)} K`).join(', ');
  return (
    <svg
      viewBox={`0 0 560 ${bottom + 30}`}
      className="mt-2 w-full"
      role="img"
      aria-label={`Layers from the die to the room: ${said}`}
      data-testid="stack-drawing"
    >
      <text x={0} y={16} fontSize={15} fill="var(--ink)">
        Die {write(answer.die_c, 1)} °C
      </text>
      {answer.layers.map((l, i) => (
        <g key={l.key}>
          <rect
            x={0}
            y={starts[i]}
            width={120}
            height={Math.max(0.5, tall[i])}
            fill={`color-mix(in oklab, var(--hot) ${Math.round(100 * (1 - i / 5.5))}%, var(--cool))`}
          />
          <path d={`M122 ${starts[i] + tall[i] / 2}H136L150 ${names[i]}H158`} fill="none" stroke="var(--soft)" />
          <text x={164} y={names[i] + 5} fontSize={15} fill="var(--ink)">
            {l.name}
          </text>
          <text x={400} y={names[i] + 6} fontSize={18} fontWeight={600} textAnchor="end" fill="var(--ink)">
            {write(l.rise_k, 1)} K
          </text>
          <text x={412} y={names[i] + 5} fontSize={13} fill="var(--soft)">
            {write(100 * l.share, 0)} % · ± {write(2 * l.u * stack.power_w, 1)} K
          </text>
        </g>
      ))}
      <text x={0} y={bottom + 20} fontSize={15} fill="var(--ink)">
        Room {write(stack.room_c, 1)} °C · together {write(answer.rise_k, 1)} K, ± {write(2 * answer.u_k, 1)} K, {write(answer.k_per_w, 3)}{' '}
        K/W
      </text>
    </svg>
  );
}

interface FitProps {
  stack: Stack;
  wholes: MeasuredWhole[];
  told: { ok: boolean; words: string } | null;
  onTold: (told: { ok: boolean; words: string }) => void;
  onTake: (stack: Stack) => void;
}

/** Fits one layer to a whole that was measured, by a study or typed. */
function Fit({ stack, wholes, told, onTold, onTake }: FitProps) {
  const [layer, setLayer] = useState('sink');
  const [from, setFrom] = useState('');
  const [typed, setTyped] = useState('');
  const names = [...new Set(wholes.map((w) => w.specimen))];
  const repeated = names.filter((n) => wholes.filter((w) => w.specimen === n).length > 1);
  const chosen = wholes.filter((w) => `${w.study_id} ${w.specimen}` === from || `all ${w.specimen}` === from);
  const plain = numberWithin(typed, 0.0001, 100);
  const fit = () => {
    if (chosen.length === 0 && plain === null)
      return onTold({ ok: false, words: 'Choose a measured specimen, or type its resistance in K/W.' });
    const [power] = chosen.flatMap((w) => w.power_w ?? []);
    const powered = power ? { ...stack, power_w: Number(power.toFixed(1)) } : stack;
    const measured = chosen.length > 0 ? chosen.map((w) => ({ k_per_w: w.k_per_w, se: w.se ?? 0 })) : [{ k_per_w: plain as number, se: 0 }];
    const result = calibrateStack(powered, layer, measured);
    if (!result.ok) return onTold({ ok: false, words: result.problem });
    onTake(result.stack);
    onTold({
      ok: true,
      words: `${result.layer} takes ${write(result.is, 3)} K/W (± ${write(2 * result.u, 3)}) instead of ${write(result.was, 3)}, so that the whole is the ${write(solveStack(result.stack).k_per_w, 3)} K/W measured${chosen.length > 0 ? ` for ${chosen[0].specimen}${chosen.length > 1 ? ` in ${chosen.length} studies` : ''}` : ''}.`,
    });
  };
  return (
    <Section id="fit" title="Fit to what was measured" heading="mb-2 text-name" className="mt-10">
      <div className="grid items-start gap-x-4 gap-y-3 sm:grid-cols-2 lg:grid-cols-[2fr_1fr_1fr_auto]">
        <ChoiceBox
          label="Measured"
          hint={`of the newest ${MOST_STUDIES} studies; for an older one, open the stack from its results`}
          value={from}
          onChange={setFrom}
          choices={[
            ['', 'typed'],
            ...repeated.map((n) => [`all ${n}`, `${n}: all of these studies that measured it, together`] as const),
            ...wholes.map((w) => [`${w.study_id} ${w.specimen}`, wholeWords(w)] as const),
          ]}
        />
        <TextBox
          label="Typed / K/W"
          className="figure"
          inputMode="decimal"
          disabled={chosen.length > 0}
          value={typed}
          onChange={setTyped}
        />
        <ChoiceBox label="Layer to fit" value={layer} onChange={setLayer} choices={stack.layers.map((l) => [l.key, l.name] as const)} />
        <Act className="mt-6" onClick={fit}>
          Fit it
        </Act>
      </div>
      {told && (
        <p role={told.ok ? 'status' : 'alert'} className={`mt-2 ${told.ok ? '' : 'font-semibold text-ember'}`}>
          {told.words}
        </p>
      )}
    </Section>
  );
}

const wholeWords = (w: MeasuredWhole) => `${w.specimen}: ${write(w.k_per_w, 3)} K/W, ${plural(w.mounts, 'mount')} (${w.study})`;

/** A part with two dies or more: each its own way, one cooler for all. */
function Dies({ answer, stack }: { answer: StackAnswer; stack: Stack }) {
  const [powers, setPowers] = useState('90, 50');
  const own = answer.layers.slice(0, 2).reduce((sum, l) => sum + l.k_per_w, 0);
  const shared = answer.k_per_w - own;
  const watts = powers
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map((t) => numberWithin(t, 0, 2000));
  const isGood = watts.length > 0 && watts.length <= 16 && watts.every((w) => w !== null);
  const result = isGood
    ? dieSpread(
        watts.map((w, i) => ({ name: `Die ${i + 1}`, power_w: w as number, own_k_per_w: own * watts.length })),
        shared,
        stack.room_c,
      )
    : null;
  return (
    <Section id="dies" title="Several dies under one cooler" heading="mb-2 text-name" className="mt-10">
      <div className="max-w-md">
        <TextBox
          label="Power of each die / W"
          hint="separated by commas; they share the area of the die alike"
          error={isGood ? undefined : 'One to sixteen powers from 0 to 2000 W, separated by commas.'}
          className="figure"
          value={powers}
          onChange={setPowers}
        />
      </div>
      {result && (
        <p className="mt-2 text-name">
          {result.dies.map((d) => `${d.name} ${write(d.c, 1)} °C`).join(' · ')}
          {result.dies.length > 1 && `: ${write(result.spread_k, 1)} K apart, which no cooler takes away.`}
        </p>
      )}
    </Section>
  );
}
