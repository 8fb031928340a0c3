import type { Found } from '#features/bench/model/found';

const KEY = 'recent-pages';
const MOST = 8;

/** Pages that were looked at last, the latest first. */
export function recentPages(): Found[] {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '[]');
    return Array.isArray(kept) ? kept.filter((k) => typeof k?.href === 'string' && typeof k?.name === 'string') : [];
  } catch {
    return [];
  }
}

/** Notes that the page at hand was looked at. */
export function noteVisit(): void {
  const { pathname } = window.location;
  if (!/^\/(studies\/\d|mounts\/\d|runs\/\d|shelf\/\w+\/\d|reports\/|tools\/\w)/.test(pathname)) return;
  const name = document.title.replace(/ · Warm Gauge$/, '');
  const page: Found = { kind: 'Recent', name, about: '', href: pathname };
  localStorage.setItem(KEY, JSON.stringify([page, ...recentPages().filter((p) => p.href !== pathname)].slice(0, MOST)));
}
