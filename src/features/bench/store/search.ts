import type { Client } from '#app/database/pool';
import { many, type Statement, sql } from '#app/database/query';

export interface FoundRow {
  kind: string;
  name: string;
  about: string;
  href: string;
}

const MOST_EACH = 6;
/** Of mounts and runs so many are looked at, the newest first: more than are shown, for some may lie in the bin. */
const MOST_LOOKED_AT = 40;

/** Rows of one kind that were found, those whose name begins with what is looked for first. */
const OF_KIND = (rows: Statement, begins: string): Statement => sql`
  (select kind, name, about, href from (${rows}) r order by (name ilike ${begins}) desc, id desc limit ${MOST_EACH})`;

/** What of the store holds a text: studies, specimens, sheets, mounts by lot, runs by file, reports. Each is told only once it is found. */
export function findInStore(db: Client, text: string): Promise<FoundRow[]> {
  const escaped = text.replace(/[\\%_]/g, '\\$&');
  const [like, begins] = [`%${escaped}%`, `${escaped}%`];
  const of = (rows: Statement) => OF_KIND(rows, begins);
  return many<FoundRow>(db)`
    ${of(sql`
      select id, 'Study' as kind, title as name, question as about, '/studies/' || id || '/results' as href from studies
      where title ilike ${like} or question ilike ${like}`)}
    union all
    ${of(sql`
      select sp.id, 'Specimen' as kind, sp.name, st.title as about, '/studies/' || st.id || '/mounts' as href
      from specimens sp join studies st on st.id = sp.study_id where sp.name ilike ${like}`)}
    union all
    ${of(sql`
      select id, 'Material' as kind, name, coalesce(sheet ->> 'maker', '') as about, '/shelf/materials/' || id as href from materials
      where name ilike ${like} or sheet ->> 'maker' ilike ${like}`)}
    union all
    ${of(sql`select id, 'Cooler' as kind, name, '' as about, '/shelf/coolers/' || id as href from coolers where name ilike ${like}`)}
    union all
    ${of(sql`select id, 'Fan' as kind, name, '' as about, '/shelf/fans/' || id as href from fans where name ilike ${like}`)}
    union all
    ${of(sql`
      select id, 'Rig' as kind, name, heat_source as about, '/shelf/rigs/' || id as href from rigs
      where name ilike ${like} or heat_source ilike ${like}`)}
    union all
    ${of(sql`
      select id, 'Instrument' as kind, name, '' as about, '/shelf/instruments/' || id as href from instruments where name ilike ${like}`)}
    union all
    ${of(sql`
      select p.mount_id as id, 'Mount' as kind, p.specimen || ', mount ' || p.mount as name,
             p.study || coalesce(' · lot ' || f.lots, '') as about, '/mounts/' || p.mount_id as href
      from (
        select m.id, null::text as lots from mounts m join specimens sp on sp.id = m.specimen_id
        where sp.name || ', mount ' || m.number ilike ${like}
        union
        select mount_id, max(lots) from mount_attempts where lots <> '' and lots ilike ${like} group by mount_id
        order by 1 desc limit ${MOST_LOOKED_AT}) f
      join placed_mounts p on p.mount_id = f.id`)}
    union all
    ${of(sql`
      select r.id, 'Run' as kind, f.name, p.specimen || ', mount ' || p.mount || ', run ' || r.number as about, '/runs/' || r.id as href
      from (
        select run_id, name from run_files where position = 0 and name ilike ${like}
        order by (name ilike ${begins}) desc, run_id desc limit ${MOST_LOOKED_AT}) f
      join runs r on r.id = f.run_id join placed_mounts p using (mount_id)`)}
    union all
    ${of(sql`
      select r.id, 'Report' as kind, st.title || ', version ' || r.number as name,
             case when r.withdrawn_at is null then r.author else 'withdrawn' end as about, '/reports/' || r.address as href
      from reports r join studies st on st.id = r.study_id where st.title ilike ${like} or r.author ilike ${like}`)}`;
}
