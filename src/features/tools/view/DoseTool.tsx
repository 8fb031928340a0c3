import { useState } from 'react';
import { plural, write } from '#core/text/words';
import { type Dose, type DosePart, dose, judgeAmount, PATTERNS, type Pattern, usualPattern } from '#core/thermal/dose/dose';
import { amountLeft } from '#features/shelf/model/stock';
import type { ToolMaterial, ToolSetting } from '#features/tools/server/toolSetting';
import { ChoiceBox, TextBox } from '#ui/Form.tsx';
import { Table } from '#ui/Table.tsx';
import { useNumbers } from '#ui/useNumbers.tsx';
import { Figure } from '#ui/Words.tsx';
import { SaveInto } from './SaveInto.tsx';

const PATTERN_NAMES: Record<Pattern, string> = {
  dot: 'Dot',
  dots: 'Several dots',
  line: 'Line',
  cross: 'Cross',
  spread: 'Spread film',
  film: 'Film on both faces',
  sheet: 'Sheet',
};
const PART_NAMES: [DosePart['kind'], string][] = [
  ['lid', 'Lid'],
  ['die', 'Bare die'],
  ['dies', 'Several dies'],
  ['row', 'Row of parts'],
];

/** Kinds of the shelf as the dose knows them. */
function doseKind(m: ToolMaterial | undefined): Parameters<typeof usualPattern>[1] {
  const kind = m?.sheet.kind;
  if (kind === 'pad' || kind === 'phase_change' || kind === 'graphite') return 'sheet';
  return kind === 'liquid_metal' || kind === 'epoxy' || kind === 'putty' ? kind : 'paste';
}

/** Uses in a full tube, and those left after the mounts made so far; null where the sheet does not tell what a tube holds. */
function usesOf({ sheet, used }: ToolMaterial, { mass_mg }: Dose): { full: number; left: number | null } | null {
  const { pack_size, pack_unit, density_g_per_cm3 } = sheet;
  const unit_mg = pack_unit === 'g' ? 1000 : pack_unit === 'ml' && density_g_per_cm3 ? 1000 * density_g_per_cm3 : null;
  if (pack_size == null || unit_mg === null) return null;
  const rest = amountLeft(sheet, used, sheet.per_mount ?? mass_mg / unit_mg);
  return { full: Math.floor((pack_size * unit_mg) / mass_mg), left: rest === null ? null : Math.floor((rest * unit_mg) / mass_mg + 1e-9) };
}

/** How much of a material, and where: answers while one types, drawn to scale. */
export function DoseTool({ setting, materials }: { setting: ToolSetting; materials: ToolMaterial[] }) {
  const { mount } = setting;
  const [name, setName] = useState(mount?.material ?? '');
  const material = materials.find((m) => m.name === name);
  const [kind, setKind] = useState<DosePart['kind']>(
    mount?.contact === 'die' || mount?.contact === 'dies' || mount?.contact === 'row' ? mount.contact : 'lid',
  );
  const form = useNumbers({
    length: { label: 'Length / mm', start: mount?.length_mm ?? 37, min: 0.5, max: 1000 },
    width: { label: 'Width / mm', start: mount?.width_mm ?? 37, min: 0.5, max: 1000 },
    count: { label: 'How many', start: 1, min: 1, max: 64 },
    bond: { label: 'Bond line / µm', start: material?.sheet.bond_line_um ?? 45, min: 1, max: 5000 },
    density: { label: 'Density / g/cm³', start: material?.sheet.density_g_per_cm3 ?? 2.5, min: 0.1, max: 25 },
    waste: { label: 'Waste / %', start: 15, min: 0, max: 200, hint: 'squeezed out, on the tool' },
    angle: { label: 'Contact angle / °', start: 60, min: 5, max: 150, hint: 'of a fresh drop' },
  });
  const [pattern, setPattern] = useState('');
  const [reason, setReason] = useState('');
  const take = (next: string) => {
    setName(next);
    const sheet = materials.find((m) => m.name === next)?.sheet;
    if (sheet?.bond_line_um) form.put('bond', sheet.bond_line_um);
    if (sheet?.density_g_per_cm3) form.put('density', sheet.density_g_per_cm3);
  };
  const { length: l, width: w, count: n } = form.values;
  const part: DosePart | null =
    l !== null && w !== null && n !== null
      ? { kind, length_mm: l, width_mm: w, count: kind === 'lid' || kind === 'die' ? 1 : Math.round(n) }
      : null;
  const usual = part ? usualPattern(part, doseKind(material)) : null;
  const chosen = (pattern || usual?.pattern || 'dot') as Pattern;
  const { all } = form;
  const input = part &&
    all && {
      part,
      pattern: chosen,
      bond_line_um: all.bond,
      density_g_per_cm3: all.density,
      waste: all.waste / 100,
      contact_angle_deg: all.angle,
    };
  const result = input ? dose(input) : null;
  const tube = material && result ? usesOf(material, result) : null;
  // another pattern than the usual one is a choice; why it was made is kept with it
  const overridden = Boolean(pattern && usual && pattern !== usual.pattern);
  const words =
    result &&
    `${PATTERN_NAMES[chosen]}, ${write(result.mass_mg, 0)} mg${overridden && usual ? ` (instead of ${PATTERN_NAMES[usual.pattern].toLowerCase()}: ${reason.trim()})` : ''}`;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-8 lg:grid-cols-[320px_minmax(0,1fr)]">
      <div className="grid grid-cols-2 content-start gap-x-4 gap-y-3">
        <div className="col-span-2">
          <ChoiceBox label="Material" value={name} onChange={take} choices={[['', 'not on the shelf'], ...materials.map((m) => m.name)]} />
        </div>
        <ChoiceBox label="Part" value={kind} onChange={setKind} choices={PART_NAMES} />
        {kind === 'dies' || kind === 'row' ? form.box('count') : <span />}
        {form.box('length')}
        {form.box('width')}
        {form.box('bond')}
        {form.box('density')}
        {form.box('waste')}
        {form.box('angle')}
        <div className="col-span-2">
          <ChoiceBox
            label="Pattern"
            value={pattern}
            onChange={setPattern}
            choices={[
              ['', `As usual: ${usual ? PATTERN_NAMES[usual.pattern].toLowerCase() : ''}`],
              ...PATTERNS.map((p) => [p, PATTERN_NAMES[p]] as const),
            ]}
            hint={usual?.why}
          />
        </div>
      </div>
      {result && input ? (
        <div>
          <p className="flex flex-wrap items-end gap-x-6 gap-y-2" data-testid="dose">
            <Figure value={write(result.mass_mg, result.mass_mg < 10 ? 1 : 0)} unit="mg" size="large" />
            <span className="pb-1">
              <Figure value={write(result.volume_mm3 / 1000, 3)} unit="ml" size="name" />
              {tube && (
                <span className="text-soft">
                  {' '}
                  · a full tube serves {tube.full}
                  {tube.left !== null && `, ${plural(tube.left, 'use is', 'uses are')} left`}
                </span>
              )}
            </span>
          </p>
          <Drawing part={input.part} result={result} />
          <Table
            className="mt-3 max-w-xl"
            caption="What another amount would do"
            rows={[0.5, 1, 2].map((share) => ({ share, mass: share * result.mass_mg, ...judgeAmount(share * result.mass_mg, input) }))}
            keyOf={(r) => r.share}
            columns={[
              {
                head: 'Amount',
                cell: (r) => `${write(r.mass, 0)} mg${r.share === 1 ? ', this' : r.share < 1 ? ', half' : ', double'}`,
                className: 'figure',
              },
              {
                head: 'Covered',
                figure: true,
                cell: (r) => <span className={r.cover < 0.98 ? 'font-semibold text-ember' : ''}>{write(100 * r.cover, 0)} %</span>,
              },
              { head: 'Squeezed out', figure: true, cell: (r) => `${write(r.squeezed_mm3, 0)} mm³` },
            ]}
          />
          {mount && overridden && (
            <div className="mt-4 max-w-xl">
              <TextBox label="Why this pattern" value={reason} maxLength={300} onChange={setReason} />
            </div>
          )}
          {mount && (
            <SaveInto
              mount={mount}
              step="apply"
              records={{ pattern: words }}
              missing={overridden && reason.trim() === '' ? 'Say why it is not the usual pattern.' : null}
            />
          )}
        </div>
      ) : (
        <p className="text-soft">A figure is missing or out of its range; the fields say which.</p>
      )}
    </div>
  );
}

/** The part to scale: what is applied filled, where it spreads dashed. */
function Drawing({ part, result }: { part: DosePart; result: Dose }) {
  const { length_mm: l, width_mm: w } = part;
  const room = 0.18 * Math.max(l, w);
  const px = 0.004 * Math.max(l, w);
  const radius = result.spread_radius_mm;
  return (
    <svg
      className="mt-3 h-[300px] max-w-full"
      viewBox={`${-l / 2 - room} ${-w / 2 - room} ${l + 2 * room} ${w + 2 * room}`}
      role="img"
      aria-label={`The part, ${l} × ${w} mm, with the material as it is applied${radius === null ? '' : ` and the circle of ${write(radius, 1)} mm it spreads to`}`}
    >
      <rect x={-l / 2} y={-w / 2} width={l} height={w} fill="var(--leaf)" stroke="var(--ink)" strokeWidth={3 * px} />
      {result.shapes.map((s) => {
        if (s.kind === 'dot')
          return (
            <g key={`${s.x} ${s.y}`}>
              {radius !== null && (
                <circle
                  cx={s.x}
                  cy={s.y}
                  r={radius}
                  fill="var(--cool)"
                  fillOpacity={0.12}
                  stroke="var(--cool)"
                  strokeWidth={2 * px}
                  strokeDasharray={`${5 * px} ${4 * px}`}
                />
              )}
              <circle cx={s.x} cy={s.y} r={s.diameter / 2} fill="var(--ink)" />
            </g>
          );
        if (s.kind === 'line')
          return (
            <line
              key={`${s.x1} ${s.y1}`}
              x1={s.x1}
              y1={s.y1}
              x2={s.x2}
              y2={s.y2}
              stroke="var(--ink)"
              strokeWidth={s.width}
              strokeLinecap="round"
            />
          );
        return (
          <rect key="film" x={-s.length / 2} y={-s.width / 2} width={s.length} height={s.width} fill="var(--cool)" fillOpacity={0.45} />
        );
      })}
      <text x={0} y={w / 2 + 0.75 * room} textAnchor="middle" fontSize={0.32 * room} fill="var(--ink)">
        {l} mm
      </text>
      <text
        x={-l / 2 - 0.4 * room}
        y={0}
        textAnchor="middle"
        fontSize={0.32 * room}
        fill="var(--ink)"
        transform={`rotate(-90 ${-l / 2 - 0.4 * room} 0)`}
      >
        {w} mm
      </text>
    </svg>
  );
}
