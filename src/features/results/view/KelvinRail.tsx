import type { CSSProperties } from 'react';
import { write } from '#core/text/words';
import type { RailSpecimen, StudyRail } from '#features/results/server/studyRail';
import { MarkShape } from '#ui/SpecimenMark.tsx';

interface KelvinRailProps {
  rail: StudyRail;
  /** specimen the page is about, drawn with its name */
  current?: string;
}

/** How far the scale stands below the highest mark. */
const LIFT = 'var(--lift) * 26px';
const LANE = '[--lane:var(--lane-wide)] max-lg:[--lane:var(--lane-narrow)]';
/** marks that fit beside each other on a wide screen, and on a phone or at twice the size */
const WIDE_MARKS = 42;
const NARROW_MARKS = 12;

const liftOf = (lanes: Map<string, number>): number => Math.max(0, ...lanes.values());

/** The study's specimens on one scale of ΔT over ambient; the same rail heads every place of a study. */
export function KelvinRail({ rail, current }: KelvinRailProps) {
  const { specimens, range, unit, words } = rail;
  const studyId = rail.study.id;
  const placed = specimens.filter((s) => s.mean !== null || s.supposed !== null);
  const waiting = specimens.filter((s) => s.mean === null && s.supposed === null);
  const at = (s: RailSpecimen) => s.mean ?? s.supposed ?? 0;
  const { low, high, ticks } = range;
  const marks = placed.map((s) => ({ name: s.name, at: at(s) }));
  // marks that would lie on each other stand one above the other: on a phone sooner than on a wide screen
  const wide = stagger(marks, high - low, WIDE_MARKS);
  const narrow = stagger(marks, high - low, NARROW_MARKS);
  const heights = { '--wide': liftOf(wide), '--narrow': liftOf(narrow) } as CSSProperties;
  const laneOf = (name: string) => ({ '--lane-wide': wide.get(name) ?? 0, '--lane-narrow': narrow.get(name) ?? 0 });
  const place = (v: number) => `${(100 * Math.min(Math.max(v, low), high) - 100 * low) / (high - low)}%`;
  return (
    <nav aria-label={`Specimens of this study by ${words}`} className="grid grid-cols-[auto_1fr] items-end gap-4 pt-2 pr-5">
      <div className="flex gap-1 pb-5">
        {waiting.map((s) => (
          <RailLink key={s.name} studyId={studyId} specimen={s} label={`${s.name}, not measured yet`} current={false} />
        ))}
      </div>
      <div className="relative [--lift:var(--wide)] max-lg:[--lift:var(--narrow)]" style={{ ...heights, height: `calc(64px + ${LIFT})` }}>
        <div
          className="absolute inset-x-0 h-[5px]"
          style={{
            background: 'linear-gradient(in oklab to right, var(--cool), var(--bone), var(--hot))',
            opacity: placed.length > 0 ? 1 : 0.35,
            top: `calc(36px + ${LIFT})`,
          }}
        />
        {placed.map((s) => (
          <div key={s.name}>
            {s.ci && (
              <div
                className="absolute h-[2px] bg-ink"
                style={{ left: place(s.ci[0]), width: `calc(${place(s.ci[1])} - ${place(s.ci[0])})`, top: `calc(32px + ${LIFT})` }}
              />
            )}
            {((wide.get(s.name) ?? 0) > 0 || (narrow.get(s.name) ?? 0) > 0) && (
              <div
                className={`${LANE} absolute w-px bg-soft`}
                style={
                  {
                    ...{ ...laneOf(s.name), left: place(at(s)) },
                    ...{
                      top: `calc(30px + ${LIFT} - var(--lane) * 26px)`,
                      height: 'calc(min(1, var(--lane)) * (var(--lane) * 26px + 4px))',
                    },
                  } as CSSProperties
                }
              />
            )}
            <div
              className={`${LANE} absolute -translate-x-1/2`}
              style={
                {
                  ...{ ...laneOf(s.name), left: place(at(s)), zIndex: s.name === current ? 2 : 1 },
                  top: `calc(4px + ${LIFT} - var(--lane) * 26px)`,
                } as CSSProperties
              }
            >
              <RailLink
                studyId={studyId}
                specimen={s}
                label={`${s.name}: ${s.mean === null ? 'expected ' : ''}${write(at(s), 1)} ${unit}`}
                current={s.name === current}
              />
            </div>
          </div>
        ))}
        {placed.length > 0 &&
          ticks.map((v, i) => (
            <span
              key={v}
              className={`figure absolute -translate-x-1/2 whitespace-nowrap text-note text-soft ${i % 2 === 1 ? 'max-sm:hidden' : ''}`}
              style={{ left: place(v), top: `calc(44px + ${LIFT})` }}
            >
              {v}
              {i === ticks.length - 1 && <span className="absolute left-full pl-1">{unit}</span>}
            </span>
          ))}
        {placed.length === 0 && (
          <span className="absolute top-11 bg-paper text-note leading-tight text-soft">
            Nothing is measured yet; marks appear with the first valid run.
          </span>
        )}
      </div>
    </nav>
  );
}

/** Lane of each mark, 0 next to the bar, so that each can be hit; a mark goes to the lowest lane where it has room. */
function stagger(specimens: { name: string; at: number }[], span: number, fit: number): Map<string, number> {
  const ends: number[] = [];
  const lanes = new Map<string, number>();
  for (const s of [...specimens].sort((a, b) => a.at - b.at)) {
    const at = s.at / span;
    let lane = ends.findIndex((end) => at - end >= 1 / fit);
    if (lane < 0) lane = ends.push(Number.NEGATIVE_INFINITY) - 1;
    ends[lane] = at;
    lanes.set(s.name, lane);
  }
  return lanes;
}

const RailLink = ({ studyId, specimen, label, current }: { studyId: number; specimen: RailSpecimen; label: string; current: boolean }) => (
  <a
    href={`/studies/${studyId}/runs#specimen-${specimen.position}`}
    title={label}
    className={`grid h-[26px] w-[26px] place-items-center rounded-[2px] hover:bg-band ${current ? 'bg-band outline outline-1 outline-ink' : ''}`}
  >
    <span className="sr-only">{label}</span>
    <svg width="20" height="20" viewBox="-10 -10 20 20" aria-hidden="true">
      <MarkShape position={specimen.position} size={5.5} hollow={specimen.mean === null} />
    </svg>
  </a>
);
