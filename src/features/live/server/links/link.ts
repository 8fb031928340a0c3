import type { MappedChannel } from '#features/shelf/model/channelMap';
import type { RefusedReading } from '../readAnswer';

/** A way to an instrument that could not be had, or was lost: it is made anew after any of these. */
export class LinkFailure extends Error {
  constructor(
    readonly code: 'unreachable' | 'timeout' | 'dropped' | 'too_long' | 'other_device' | 'refused',
    message: string,
  ) {
    super(message);
  }
}

/** Figures by channel, in the core's units; NaN where there is none, and why. */
export interface LinkReading {
  values: Map<string, number>;
  refused: RefusedReading[];
}

/** An open way to an instrument: it is asked at the source's rate, or it sends by itself until it ends. */
export type Link = {
  /** sends a command */
  send?: (command: string) => void;
  close: () => void;
} & ({ read: () => Promise<LinkReading> } | { ended: Promise<LinkFailure> });

/** What a link needs to be opened. */
export interface LinkTerms {
  channels: MappedChannel[];
  /** text that an instrument has to name itself by; null where any will do */
  identity: string | null;
  /** longest wait for an answer */
  timeout_ms: number;
  /** takes what a link sends by itself */
  give: (reading: LinkReading) => void;
}

/** A promise that ends with a failure where nothing came in time. */
export function inTime<T>(work: Promise<T>, ms: number, late: () => LinkFailure): Promise<T> {
  return new Promise((done, failed) => {
    const timer = setTimeout(() => failed(late()), ms);
    work.then(done, failed).finally(() => clearTimeout(timer));
  });
}
