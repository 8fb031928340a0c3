import { IsIn, IsInt, IsNumber, IsOptional, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import { LIVE_KINDS } from '#features/mount/model/liveKinds';

/** Begins a live run on a mount. */
export class LiveStart {
  @IsInt({ message: 'Say which mount is run.' })
  mount_id!: number;

  @IsIn(Object.keys(LIVE_KINDS), { message: `A live run is one of ${Object.keys(LIVE_KINDS).join(', ')}.` })
  kind: keyof typeof LIVE_KINDS = 'run';

  @IsOptional()
  @Max(100, { message: 'Up to 100 cycles are run in a row.' })
  @Min(1, { message: 'At least one cycle is run.' })
  @IsInt({ message: 'The number of cycles is a whole number.' })
  cycles?: number;

  @IsOptional()
  @Min(-60, { message: 'A room below −60 °C is not plausible.' })
  @Max(80, { message: 'A room above 80 °C is not plausible.' })
  @IsNumber({ allowNaN: false }, { message: 'The room temperature is a number in °C.' })
  room_c?: number | null;

  /** hard limit of an attended test, °C */
  @IsOptional()
  @Min(30, { message: 'A hard limit below 30 °C is not plausible.' })
  @Max(300, { message: 'A hard limit above 300 °C is not plausible.' })
  @IsNumber({ allowNaN: false }, { message: 'The hard limit is a number in °C.' })
  stop_c?: number | null;

  @IsOptional()
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  @IsString()
  who?: string;
}

const ORDERS = ['begin', 'stop', 'mark', 'start_load', 'end_load', 'acknowledge', 'resume'] as const;

/** What a person tells a live run. */
export class LiveOrder {
  @IsIn(ORDERS, { message: `An order is one of ${ORDERS.join(', ')}.` })
  kind!: (typeof ORDERS)[number];

  /** why it is stopped, or begun against the checks */
  @IsOptional()
  @MaxLength(500, { message: 'A reason holds up to 500 characters.' })
  @IsString()
  reason?: string;

  /** what was seen */
  @IsOptional()
  @Length(1, 60, { message: 'Name the event in 1 to 60 characters.' })
  @IsString()
  event?: string;

  @IsOptional()
  @MaxLength(20, { message: 'Initials hold up to 20 characters.' })
  @IsString()
  who?: string;
}
