import { LIVE_KINDS } from '#features/mount/model/liveKinds';
import { Amount, Id, Maybe, OneOf, Text, Whole } from '#rules/rules';

/** Begins a live run on a mount. */
export class LiveStart {
  @Id('Choose the mount to run.')
  mount_id!: number;

  @OneOf(Object.keys(LIVE_KINDS), `A live run is one of ${Object.keys(LIVE_KINDS).join(', ')}.`)
  kind: keyof typeof LIVE_KINDS = 'run';

  @Maybe(Whole(1, 100, 'Enter 1 to 100 cycles.'))
  cycles?: number;

  @Maybe(Amount(-60, 80, 'The room is a number between −60 and 80 °C.'))
  room_c?: number | null;

  /** hard limit of an attended test, °C */
  @Maybe(Amount(30, 300, 'The hard limit is a number between 30 and 300 °C.'))
  stop_c?: number | null;

  /** longest load; without it an hour, or what the plan says where that is more */
  @Maybe(Amount(60, 360_000, 'The longest load is a number between 60 and 360,000 s.'))
  most_load_s?: number | null;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;
}

const ORDERS = ['begin', 'stop', 'mark', 'start_load', 'end_load', 'acknowledge', 'resume'] as const;

/** What a person tells a live run. */
export class LiveOrder {
  @OneOf(ORDERS, `An order is one of ${ORDERS.join(', ')}.`)
  kind!: (typeof ORDERS)[number];

  /** why it is stopped, or begun against the checks */
  @Maybe(Text(0, 500, 'A reason holds up to 500 characters.'))
  reason?: string;

  /** what was seen */
  @Maybe(Text(1, 60, 'Name the event in 1 to 60 characters.'))
  event?: string;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;
}
