import { useEffect, useState } from 'react';
import { Line, Scatter, Tooltip } from 'recharts';
import { keepUnits, write } from '#core/text/words';
import { axisRange } from '#core/units/axisRange';
import { calendarDay } from '#core/units/calendarDay';
import { type Found, foundWords } from '#features/mount/model/opening';
import type { AgedSpecimen, AgeingAnswer, DueMeasurement } from '#features/results/model/ageing/ageingAnswer';
import { ChartFrame } from '#ui/ChartFrame.tsx';
import { EndNames, NumberChart } from '#ui/NumberChart.tsx';
import { MarkShape } from '#ui/SpecimenMark.tsx';
import { Table } from '#ui/Table.tsx';
import { CheckedLink, Section } from '#ui/Words.tsx';

interface AgeingDeskProps {
  answer: AgeingAnswer;
  openings: { id: number; mount_id: number; specimen: string; mount: number; found: Found[]; note: string; photographs: number[] }[];
  study: { id: number; title: string; margin_k: number };
}

/** Change over time specimen: every mount over its age, the course of their mean, and the verdict against the margin. */
export function AgeingDesk({ answer, openings, study }: AgeingDeskProps) {
  const { specimens, headline, due } = answer;
  const [claim, basis] = parted(headline);
  return (
    <>
      <h1 className="mt-4 text-verdict leading-[1.15] font-semibold">
        {keepUnits(claim)} <span className="text-title font-normal text-soft">{keepUnits(basis)}</span>
      </h1>
      <p className="mt-3">
        <a className="quiet inline-block" href={answer.unit === 'cycles' ? '?by=time' : '?by=cycles'}>
          {answer.unit === 'cycles' ? 'Over time' : 'Over load cycles'}
        </a>
      </p>
      <div className="mt-5">
        <AgeChart answer={answer} />
      </div>
      <Section id="ageing-verdicts" title={<>Changed or not, against {write(study.margin_k, 1)} K</>} className="mt-8">
        <ul>
          {specimens.map((s) => (
            <li key={s.name} className="border-b border-rule py-2">
              {keepUnits(s.sentence)}
            </li>
          ))}
        </ul>
        <p className="mt-3 max-w-[50rem] text-soft">
          Each mount is followed by itself and has its own start and slope; the interval is that of the slopes from mount to mount. Nothing
          is said beyond the oldest age. A loss that matters calls for a look at the opened interface; what is found is written down on the
          mount’s page. <CheckedLink subject="ageing" />
        </p>
      </Section>
      {openings.length > 0 && (
        <Section id="opened" title="Found on opening" className="mt-8">
          <ul>
            {openings.map((o) => (
              <li key={o.id} className="border-b border-rule py-2">
                <a href={`/mounts/${o.mount_id}`}>
                  {o.specimen}, mount {o.mount}
                </a>
                : <span className="font-semibold">{foundWords(o.found)}</span>
                {o.note && `, ${o.note}`}
                {o.photographs.map((id, i) => (
                  <a key={id} className="ml-3" href={`/api/photographs/${id}`}>
                    photograph {i + 1}
                  </a>
                ))}
              </li>
            ))}
          </ul>
        </Section>
      )}
      <Due due={due} studyId={study.id} />
    </>
  );
}

function parted(sentence: string): [string, string] {
  const at = sentence.indexOf(' (');
  return at < 0 ? [sentence, ''] : [sentence.slice(0, at), sentence.slice(at + 1)];
}

function Due({ due, studyId }: { due: DueMeasurement[]; studyId: number }) {
  if (due.length === 0) return null;
  return (
    <Section id="due" title="To be measured next" className="mt-8">
      <Table
        className="mt-1 max-w-2xl"
        rows={due}
        keyOf={(d) => d.mount_id}
        columns={[
          { head: 'Mount', cell: (d) => <a href={`/mounts/${d.mount_id}`}>{`${d.specimen}, mount ${d.mount}`}</a> },
          { head: 'Age / d', figure: true, cell: (d) => d.age_days },
          { head: 'Due', figure: true, cell: (d) => <DueDay due={d} /> },
        ]}
      />
      <p className="mt-3">
        <a className="quiet inline-block" href={`/api/studies/${studyId}/due.ics`}>
          Into a calendar
        </a>
      </p>
    </Section>
  );
}

/** A day in the reader's zone, known once the page runs there; one of the bench's clock stays as it was told. */
function DueDay({ due: { due_s, zoned } }: { due: DueMeasurement }) {
  const [day, setDay] = useState(calendarDay(due_s, false));
  useEffect(() => setDay(calendarDay(due_s, zoned)), [due_s, zoned]);
  return <time dateTime={day}>{day}</time>;
}

function AgeChart({ answer }: { answer: AgeingAnswer }) {
  const { specimens, unit } = answer;
  const values = specimens.flatMap((s) => s.values);
  const x = axisRange([0, ...values.map((v) => v.age)]);
  const y = axisRange(values.map((v) => v.value));
  const xName = unit === 'cycles' ? 'Load cycles before it' : `Age / ${unit}`;
  const ends = specimens.flatMap((s) => {
    const last = s.line.at(-1) ?? s.values.at(-1);
    return last ? [{ name: s.name, x: last.age, y: last.value }] : [];
  });
  return (
    <ChartFrame
      title="ΔT against age"
      table={{
        columns: ['Specimen', 'Mount', xName, 'ΔT / K'],
        rows: specimens.flatMap((s) => s.values.map((v) => [s.name, v.mount, v.age, Number(v.value.toFixed(2))])),
      }}
      note="Thin lines: each mount by itself. Thick lines: the fitted course of the mean, as far as it was measured."
    >
      <NumberChart
        title="ΔT against age"
        x={{ ...x, name: xName, key: 'age' }}
        y={{ ...y, name: 'ΔT over ambient / K', key: 'value' }}
        right={110}
      >
        {specimens.flatMap((s) =>
          mountsOf(s).map((own) => (
            <Line
              key={`${s.name} ${own[0].mount}`}
              data={own}
              dataKey="value"
              stroke="var(--soft)"
              strokeWidth={1}
              dot={false}
              activeDot={false}
              isAnimationActive={false}
            />
          )),
        )}
        {specimens.map((s) => (
          <Line
            key={s.name}
            data={s.line}
            dataKey="value"
            stroke="var(--ink)"
            strokeWidth={3}
            dot={false}
            activeDot={false}
            isAnimationActive={false}
          />
        ))}
        {specimens.map((s) => (
          <Scatter
            key={`${s.name} runs`}
            data={s.values}
            dataKey="value"
            name={s.name}
            isAnimationActive={false}
            shape={({ cx, cy }: { cx?: number; cy?: number }) => <MarkShape position={s.position} x={cx} y={cy} size={4.2} />}
          />
        ))}
        <EndNames x={x} y={y} ends={ends} />
        <Tooltip
          isAnimationActive={false}
          cursor={false}
          content={({ payload }) => {
            const p = payload?.find((e) => e.payload?.mount);
            return p ? (
              <div className="border border-soft bg-leaf px-2 py-1 text-note">{`${p.name}, mount ${p.payload.mount}: ${write(p.payload.value, 1)} K at ${p.payload.age} ${unit}`}</div>
            ) : null;
          }}
        />
      </NumberChart>
    </ChartFrame>
  );
}

function mountsOf(s: AgedSpecimen) {
  const names = [...new Set(s.values.map((v) => v.mount))];
  return names.map((mount) => s.values.filter((v) => v.mount === mount).sort((a, b) => a.age - b.age));
}
