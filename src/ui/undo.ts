/** The request that takes the last change back, and what that change was. */
export interface UndoOffer {
  /** such as "Amber, mount 1, is deleted." */
  words: string;
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  url: string;
  body: unknown;
  /** page to go to once it is taken back; this one where it is missing */
  to?: string;
}

const KEY = 'undo';
/** Said on the window when an offer is made. */
export const UNDO_OFFERED = 'undo-offered';
/** An offer that nobody took up is forgotten after this time. */
const KEPT_MS = 15 * 60_000;

/** Offers to take the last change back, on this page and on those it leads to, until another change is made. */
export function offerUndo(offer: UndoOffer): void {
  sessionStorage.setItem(KEY, JSON.stringify({ ...offer, at: Date.now() }));
  window.dispatchEvent(new Event(UNDO_OFFERED));
}

/** The offer that stands; null where there is none. */
export function undoOffer(): UndoOffer | null {
  try {
    const kept = JSON.parse(sessionStorage.getItem(KEY) ?? 'null');
    return kept && Date.now() - kept.at < KEPT_MS ? kept : null;
  } catch {
    return null;
  }
}

export const forgetUndo = (): void => sessionStorage.removeItem(KEY);
