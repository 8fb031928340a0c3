import { IsObject, IsUUID } from 'class-validator';
import { ROLES, type Role } from '#core/signal/logs/types';
import { Amount, Id, ListOf, Maybe, OneOf, Text, Whole, YesNo } from '#rules/rules';

/** A channel as an agent tells it. */
export class AgentChannel {
  @Text(1, 40, 'A channel has a name of 1 to 40 characters.')
  name!: string;

  @OneOf(ROLES, `A channel has a role: ${ROLES.join(', ')}.`)
  role!: Role;

  @Maybe(Text(1, 10, 'A unit has 1 to 10 characters.'))
  unit?: string | null;
}

/** What an agent says of the machine it runs on, again and again until it is given a run. */
export class AgentHello {
  @IsUUID(undefined, { message: 'An agent names itself by a UUID.' })
  key!: string;

  @Text(1, 60, 'A machine has a name of 1 to 60 characters.')
  name!: string;

  @ListOf(() => AgentChannel, 64, 'A machine has 1 to 64 channels.', 1)
  channels!: AgentChannel[];

  @Amount(0.01, 100, 'The time between readings is 0.01 to 100 s.')
  period_s!: number;

  @YesNo('An agent says whether it may be loaded.')
  load!: boolean;

  @Maybe(Amount(0, 1e6, 'A power that is held is 0 to 1,000,000 W.'))
  hold_w?: number | null;

  @Maybe(Amount(0, 1000, 'A limit is 0 to 1,000 °C.'))
  limit_c?: number | null;

  @IsObject({ message: 'Its newest readings are an object of figures by channel.' })
  now: Record<string, number | null> = {};
}

/** Begins a live run on a machine whose agent waits. */
export class MeasureStart {
  @IsUUID(undefined, { message: 'Choose a machine.' })
  agent!: string;

  @Maybe(Id('Choose a study of the list.'))
  study_id?: number | null;

  @Maybe(Text(0, 200, 'A title holds up to 200 characters.'))
  study_title?: string;

  @Text(1, 80, 'Say what is mounted, in 1 to 80 characters.')
  specimen!: string;

  /** power that the load holds, W */
  @Maybe(Amount(0.5, 2000, 'The power is a number between 0.5 and 2000 W.'))
  hold_w?: number | null;

  /** °C at which the load ends */
  @Maybe(Amount(30, 150, 'The limit is a number between 30 and 150 °C.'))
  limit_c?: number | null;

  @Maybe(Amount(-60, 80, 'The room is a number between −60 and 80 °C.'))
  room_c?: number | null;

  @Maybe(Whole(1, 20, 'Enter 1 to 20 runs.'))
  runs?: number | null;

  /** of a new study: rest before the load, and the longest load, min */
  @Maybe(Amount(0.1, 600, 'The rest before the load is 0.1 to 600 min.'))
  idle_min?: number | null;

  @Maybe(Amount(1, 600, 'The longest load is 1 to 600 min.'))
  load_min?: number | null;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;
}
