import { Maybe, OneOf, Text, Texts } from '#rules/rules';

/** What a person said of set-ups. */
export interface SetupChoice {
  id: number;
  kind: 'together' | 'apart';
  /** keys of places, as study/rig/cooler/load */
  places: string[];
  reason: string;
  who: string;
  made_at: Date;
}

/** Set-ups as a person merges or splits them. */
export class NewSetupChoice {
  @OneOf(['together', 'apart'], 'Say whether the set-ups are merged or split.')
  kind!: SetupChoice['kind'];

  @Texts(400, 300, 'Name up to 400 places of set-ups.', 1)
  places!: string[];

  @Text(1, 400, 'Give the reason in 1 to 400 characters.')
  reason!: string;

  @Maybe(Text(0, 20, 'Initials have up to 20 characters.'))
  who?: string;
}
