-- Up Migration

-- Rows that say what cannot be are refused by the store itself. What such rows there are is put right first, towards what claims less.
update all_runs set valid = false where valid and rise_k is null and options ->> 'rise_wanted' is distinct from 'false' and result -> 'ladder' is null;
update all_runs set valid = false where valid and censored;
update all_runs set r_valid = false where r_valid and r_k_per_w is null;
update all_runs set valid = false, rise_k = null, se_k = null where not (coalesce(rise_k, 0) between -1e9 and 1e9 and coalesce(se_k, 0) between 0 and 1e9);
update all_runs set r_valid = false, r_k_per_w = null where not coalesce(r_k_per_w, 0) between -1e9 and 1e9;
alter table all_runs
  -- a ladder is complete without a rise, and so is what a study asks for that wants none
  add constraint runs_valid_has_value check (
    not valid or rise_k is not null or coalesce(options ->> 'rise_wanted', 'true') = 'false' or result -> 'ladder' is not null),
  add constraint runs_r_valid_has_value check (not r_valid or r_k_per_w is not null),
  -- infinity and what is no number are beyond any end
  add constraint runs_values_finite check (
    coalesce(rise_k, 0) between -1e9 and 1e9 and coalesce(se_k, 0) between 0 and 1e9 and coalesce(r_k_per_w, 0) between -1e9 and 1e9),
  add constraint runs_censored_is_not_valid check (not (censored and valid));

-- what belongs to a study is of that study
alter table all_specimens add constraint specimens_study_id_id_key unique (study_id, id);
update all_studies t set reference_id = (select id from all_specimens s where s.study_id = t.id and s.binned is null order by position limit 1)
  where reference_id is not null and not exists (select from all_specimens s where s.id = t.reference_id and s.study_id = t.id);
alter table all_studies drop constraint studies_reference_id_fkey,
  add constraint studies_reference_id_fkey foreign key (id, reference_id) references all_specimens (study_id, id) on delete set null (reference_id);
delete from all_planned_mounts p where not exists (select from all_specimens s where s.id = p.specimen_id and s.study_id = p.study_id);
alter table all_planned_mounts drop constraint planned_mounts_specimen_id_fkey,
  add constraint planned_mounts_specimen_id_fkey foreign key (study_id, specimen_id) references all_specimens (study_id, id) on delete cascade;

-- what was stored is known by its hash, so that it is seen where it is not what it was; logs and reports have theirs since they are kept
alter table photographs
  add column sha256 bytea generated always as (sha256(jpeg)) stored,
  add column view_sha256 bytea generated always as (sha256(view_jpeg)) stored;
alter table sound_clips add column sha256 bytea generated always as (sha256(bytes)) stored;

-- Down Migration

alter table sound_clips drop column sha256;
alter table photographs drop column view_sha256, drop column sha256;
alter table all_planned_mounts drop constraint planned_mounts_specimen_id_fkey,
  add constraint planned_mounts_specimen_id_fkey foreign key (specimen_id) references all_specimens on delete cascade;
alter table all_studies drop constraint studies_reference_id_fkey,
  add constraint studies_reference_id_fkey foreign key (reference_id) references all_specimens on delete set null;
alter table all_specimens drop constraint specimens_study_id_id_key;
alter table all_runs drop constraint runs_valid_has_value, drop constraint runs_r_valid_has_value, drop constraint runs_values_finite,
  drop constraint runs_censored_is_not_valid;
