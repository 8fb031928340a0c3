import { BellOff, BellRing, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import { Quiet } from '#ui/Form.tsx';
import { useAlarmSound } from './useAlarmSound';

interface ShownAlarm {
  key: string;
  message: string;
  /** where it is told of several rigs at once */
  where?: string;
  lasts: boolean;
  seen: boolean;
}

interface AlarmBannerProps {
  alarms: ShownAlarm[];
  /** marks all of them as seen; null where this page only shows them */
  onSeen: (() => void) | null;
  /** what stands beside the switch of the sound */
  children?: ReactNode;
}

/** Alarms across the whole width, to be seen and heard from across the room, until somebody has seen them. */
export function AlarmBanner({ alarms, onSeen, children }: AlarmBannerProps) {
  const loud = alarms.some((a) => a.lasts && !a.seen);
  const { on, allowed, playing, toggle } = useAlarmSound(loud);
  return (
    <div data-sounding={playing ? 'yes' : 'no'} data-testid="alarms">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        {children}
        <p className="flex flex-wrap items-center gap-x-3 text-note text-soft sm:ml-auto">
          {/* keeps its place when it goes: the first touch must not move what it touches */}
          <span className={on && !allowed ? '' : 'invisible'}>click once to enable sound</span>
          <Quiet className="inline-flex items-center gap-2" aria-pressed={on} onClick={toggle}>
            {on ? <BellRing size={16} aria-hidden="true" /> : <BellOff size={16} aria-hidden="true" />}
            {on ? 'Alarms sound' : 'Alarms are silent'}
          </Quiet>
        </p>
      </div>
      {alarms.length > 0 && (
        <section
          role="alert"
          className={`my-3 flex flex-wrap items-start justify-between gap-x-6 gap-y-3 px-5 py-4 ${loud ? 'bg-ember text-on-ember' : 'border-4 border-ember'}`}
          aria-label="Alarms"
        >
          <ul className="min-w-0 flex-1 basis-72">
            {alarms.map((a) => (
              <li key={a.key} className={`flex items-start gap-3 py-1 ${loud ? 'text-title leading-tight font-semibold' : 'text-name'}`}>
                <TriangleAlert className="mt-0.5 shrink-0" size={26} aria-hidden="true" />
                <span>
                  {a.where && `${a.where}: `}
                  {a.message}
                  {!a.lasts && ' Condition cleared.'}
                </span>
              </li>
            ))}
          </ul>
          {onSeen && alarms.some((a) => !a.seen) && (
            <button type="button" onClick={onSeen} className="min-h-11 shrink-0 border-2 border-current px-6 text-name font-semibold">
              Acknowledge
            </button>
          )}
        </section>
      )}
    </div>
  );
}
