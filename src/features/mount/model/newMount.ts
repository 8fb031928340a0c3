import { SPECIMEN_KINDS, type SpecimenKind } from '#features/shelf/model/materials';
import { Id, Maybe, OneOf, Text, YesNo } from '#rules/rules';

/** A mount that is begun: its specimen and rig, each there or new by name. */
export class NewMount {
  @Maybe(Id())
  specimen_id?: number | null;

  @Maybe(Text(0, 80, 'The specimen needs a name of 1 to 80 characters.'))
  specimen_name?: string | null;

  @Maybe(OneOf(SPECIMEN_KINDS, 'Choose what kind of specimen it is.'))
  specimen_kind?: SpecimenKind | null;

  @Maybe(Id())
  rig_id?: number | null;

  @Maybe(Text(0, 80, 'The rig needs a name of 1 to 80 characters.'))
  rig_name?: string | null;

  /** true where it stands already and no steps are led through */
  @Maybe(YesNo('Say whether the mount is already made.'))
  made?: boolean | null;

  @Maybe(Text(0, 20, 'Initials hold up to 20 characters.'))
  who?: string | null;
}
