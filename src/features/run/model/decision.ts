import { DECISION_CODES } from '#core/signal/reduce/decisions';
import { UNITS, type Unit } from '#core/units/units';
import { Amount, Maybe, OneOf, Text, Texts, ValuesIn, WordsOf } from '#rules/rules';

/** How a person settles what a run waits for: each way is taken into its reading, which is then made anew. */
export class Decision {
  /** findings that are right as they are */
  @Maybe(WordsOf(DECISION_CODES, 20, `Only findings that need a decision can be accepted, up to 20: ${DECISION_CODES.join(', ')}.`))
  accept?: string[];

  /** probes that measure the room */
  @Maybe(Texts(50, 200, 'Probes of the room are a list of up to 50 columns, each of up to 200 characters.'))
  ambient_probes?: string[];

  @Maybe(Amount(-60, 80, 'The room is a number between −60 and 80 °C.'))
  room_c?: number;

  @Maybe(Amount(0, 20, 'The uncertainty of the room is a number between 0 and 20 K.'))
  room_u_k?: number;

  /** units of columns */
  @Maybe(ValuesIn(Object.keys(UNITS)))
  units?: Record<string, Unit>;

  @Text(1, 500, 'Give a reason of 1 to 500 characters: it stays in the record.')
  reason!: string;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string;

  /** this run, or all of its study under the same load that wait for the same */
  @Maybe(OneOf(['run', 'load'], 'A decision is for this run, or for all runs of its load.'))
  covers?: 'run' | 'load';
}
