import { Id, Maybe, Text } from '#rules/rules';

/** Where a run is moved: a mount that is there, or a new one of a specimen on a rig. */
export class MoveRun {
  /** absent: a new mount */
  @Maybe(Id())
  mount_id?: number | null;

  /** of the new mount */
  @Maybe(Id())
  specimen_id?: number | null;

  @Maybe(Id())
  rig_id?: number | null;

  @Maybe(Text(0, 500, 'A reason holds up to 500 characters.'))
  reason?: string | null;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string | null;
}
