-- Up Migration

-- Where a mount stands: what most queries about mounts and runs say of it.
create view placed_mounts as
select m.id as mount_id, m.number as mount, m.excluded_reason, m.rig_id, g.name as rig, m.specimen_id, sp.name as specimen,
       sp.position as specimen_position, sp.kind, sp.study_id, st.title as study
from mounts m join rigs g on g.id = m.rig_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id;

-- Down Migration

drop view placed_mounts;
