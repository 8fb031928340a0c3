import type { FailureCause } from '#features/mount/model/failure';

/** Where a mount stands, as the view `placed_mounts` says it. */
export interface PlacedMount {
  mount_id: number;
  mount: number;
  excluded_reason: string | null;
  rig_id: number;
  rig: string;
  specimen_id: number;
  specimen: string;
  specimen_position: number;
  kind: string;
  study_id: number;
  study: string;
  /** why it was judged failed; null where it was not */
  failed_cause: FailureCause | null;
}
