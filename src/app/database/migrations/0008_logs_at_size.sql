-- Up Migration

-- Original files in pieces, so that a large one is never held as a whole on its way in.
alter table log_files add column id bigint generated always as identity unique;
create table log_file_pieces (
  file_id bigint not null references log_files (id) on delete cascade deferrable initially deferred,
  piece int not null,
  bytes bytea not null,
  primary key (file_id, piece)
);
do $$ begin
  alter table log_file_pieces alter column bytes set compression lz4;
exception when others then
  null; -- a server built without lz4 compresses in its own way
end $$;
insert into log_file_pieces (file_id, piece, bytes) select id, 0, bytes from log_files;
alter table log_files drop column bytes;

-- Readings as bytes, most significant first as PostgreSQL sends them: 32-bit floats, NaN where missing. A chunk's blocks are the lowest and
-- the highest of every 64 readings, and of a time axis every 64th time, so that a long trace is drawn without reading all of it.
create function pack_reals(v real[]) returns bytea language sql immutable as
  $$ select coalesce(string_agg(float4send(x), ''::bytea order by o), ''::bytea) from unnest(v) with ordinality as u (x, o) $$;
create function pack_doubles(v double precision[]) returns bytea language sql immutable as
  $$ select coalesce(string_agg(float8send(x), ''::bytea order by o), ''::bytea) from unnest(v) with ordinality as u (x, o) $$;
create function pack_blocks(v real[]) returns bytea language sql immutable as
  $$ select coalesce(string_agg(float4send(low) || float4send(high), ''::bytea order by b), ''::bytea)
     from (select (o - 1) / 64 as b, coalesce(min(x) filter (where x <> 'NaN'), 'NaN') as low, coalesce(max(x) filter (where x <> 'NaN'), 'NaN') as high
           from unnest(v) with ordinality as u (x, o) group by 1) as blocks $$;

alter table trace_chunks add column packed bytea, add column blocks bytea;
alter table trace_chunks alter column packed set storage external, alter column blocks set storage external;
update trace_chunks set packed = pack_reals(readings), blocks = pack_blocks(readings);
alter table trace_chunks drop column readings, alter column packed set not null, alter column blocks set not null;
alter table trace_chunks rename column packed to readings;

alter table time_chunks add column packed bytea, add column blocks bytea;
alter table time_chunks alter column packed set storage external;
update time_chunks set packed = pack_doubles(t), blocks = pack_doubles(array(select t[i] from generate_series(1, array_length(t, 1), 64) as i order by i));
alter table time_chunks drop column t, alter column packed set not null, alter column blocks set not null;
alter table time_chunks rename column packed to t;
drop function pack_reals, pack_doubles, pack_blocks;

-- The trace of a run is stored while it is still being reduced, so its run comes after it in the same transaction.
alter table channels alter constraint channels_run_id_fkey deferrable initially deferred;
alter table time_chunks alter constraint time_chunks_run_id_fkey deferrable initially deferred;

-- Down Migration

alter table channels alter constraint channels_run_id_fkey not deferrable;
alter table time_chunks alter constraint time_chunks_run_id_fkey not deferrable;
create function float_at(b bytea, at int) returns real language sql immutable as
  $$ select case when (bits >> 23) & 255 = 255 then 'NaN'::real
       when (bits >> 23) & 255 = 0 then 0::real
       else ((case when bits < 0 then -1 else 1 end) * (1 + (bits & 8388607)::double precision / 8388608) * power(2::double precision, ((bits >> 23) & 255) - 127))::real end
     from (select ('x' || encode(substring(b from at + 1 for 4), 'hex'))::bit(32)::int as bits) as w $$;
create function double_at(b bytea, at int) returns double precision language sql immutable as
  $$ select case when (bits >> 52) & 2047 = 0 then 0
       else (case when bits < 0 then -1 else 1 end) * (1 + (bits & 4503599627370495)::double precision / 4503599627370496) * power(2::double precision, (((bits >> 52) & 2047) - 1023)::double precision) end
     from (select ('x' || encode(substring(b from at + 1 for 8), 'hex'))::bit(64)::bigint as bits) as w $$;
alter table trace_chunks rename column readings to packed;
alter table trace_chunks add column readings real[];
update trace_chunks set readings = array(select float_at(packed, 4 * i) from generate_series(0, length(packed) / 4 - 1) as i order by i);
alter table trace_chunks alter column readings set not null, drop column packed, drop column blocks;
alter table time_chunks rename column t to packed;
alter table time_chunks add column t double precision[];
update time_chunks set t = array(select double_at(packed, 8 * i) from generate_series(0, length(packed) / 8 - 1) as i order by i);
alter table time_chunks alter column t set not null, drop column packed, drop column blocks;
drop function float_at, double_at;
alter table log_files add column bytes bytea;
update log_files f set bytes = (select string_agg(p.bytes, ''::bytea order by p.piece) from log_file_pieces p where p.file_id = f.id);
alter table log_files alter column bytes set not null;
drop table log_file_pieces;
alter table log_files drop column id;
