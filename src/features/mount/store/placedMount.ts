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
}
