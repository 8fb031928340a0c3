import { useRef } from 'react';

/**
 * What one saw of something that is to be replaced: as it is shown, and once that was refused as somebody else left it, so that whoever sends
 * again replaces theirs knowingly.
 * @param shown what is shown, as it is sent
 */
export function useSeen(shown: unknown): { seen: () => unknown; refused: (body: Record<string, unknown>) => void } {
  const theirs = useRef<{ instead: string; value: unknown } | null>(null);
  const now = JSON.stringify(shown);
  return {
    seen: () => (theirs.current && theirs.current.instead === now ? theirs.current.value : shown),
    refused: (body) => {
      if ('theirs' in body) theirs.current = { instead: now, value: body.theirs };
    },
  };
}
