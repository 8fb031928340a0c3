import type { Client } from '#app/database/pool';
import { first, many, only, touches } from '#app/database/query';
import type { SetupChoice } from '#features/ranking/model/setupChoice';

export const MOST_CHOICES = 200;

/** All that was said, in its order. */
export const listSetupChoices = (db: Client) =>
  many<SetupChoice>(db)`select id, kind, places, reason, who, made_at from setup_choices order by id`;

/** Adds one; gives it with its number. */
export const insertSetupChoice = (db: Client, choice: Pick<SetupChoice, 'kind' | 'places' | 'reason' | 'who'>) =>
  only<SetupChoice>(db)`
    insert into setup_choices (kind, places, reason, who)
    values (${choice.kind}, ${JSON.stringify(choice.places)}, ${choice.reason}, ${choice.who})
    returning id, kind, places, reason, who, made_at`;

/** How many there are. */
export const countSetupChoices = async (db: Client): Promise<number> =>
  (await first<{ n: number }>(db)`select count(*) as n from setup_choices`)?.n ?? 0;

/** Takes one back; false where there is none. */
export const deleteSetupChoice = (db: Client, id: number) => touches(db)`delete from setup_choices where id = ${id}`;
