import type { Client } from '#app/database/pool';
import { many } from '#app/database/query';
import type { Factor } from '#features/study/model/factors';

/** A study as a list of all is made from it. */
export interface ListedRow {
  id: number;
  title: string;
  question: string;
  varies: Factor | null;
  created_at: Date;
  archived: boolean;
  /** names, where they are asked for */
  specimens: string[];
}

/**
 * All studies by what a list is searched and sorted by.
 * @param withSpecimens with the names of their specimens, to be searched
 */
export const listStudyNames = (db: Client, withSpecimens: boolean) => many<ListedRow>(db)`
  select s.id, s.title, s.question, s.plan ->> 'varies' as varies, s.created_at, s.archived_at is not null as archived,
         case when ${withSpecimens} then array(select name from specimens where study_id = s.id order by position) else '{}' end as specimens
  from studies s`;
