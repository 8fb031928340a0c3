import { plural } from '#core/text/words';

/** How the samples of old runs are kept, in a sentence. */
export function samplesWords({ packed, dropped }: { packed: number; dropped: number }): string {
  if (packed + dropped === 0) return 'The samples of all runs are kept as they came.';
  if (dropped === 0) return `The samples of ${plural(packed, 'run')} are packed.`;
  if (packed === 0) return `The samples of ${plural(dropped, 'run')} are in the log only.`;
  return `The samples of ${plural(packed, 'run')} are packed, those of ${plural(dropped, 'run')} are in the log only.`;
}
