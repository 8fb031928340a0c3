/** Calls back when the process that started this one has ended: a session that was closed, a script that was killed. */
export function onParentGone(gone: () => void, every_ms = 200): NodeJS.Timeout {
  const parent = process.ppid;
  // who was started by the system itself has no parent to lose
  const timer = setInterval(() => {
    if (parent > 1 && process.ppid !== parent) {
      clearInterval(timer);
      gone();
    }
  }, every_ms);
  timer.unref();
  return timer;
}

/** Signals that end a program; each ends the load first. */
export const ENDING: NodeJS.Signals[] = ['SIGINT', 'SIGTERM', 'SIGHUP', 'SIGQUIT', 'SIGUSR1', 'SIGUSR2', 'SIGPIPE', 'SIGALRM', 'SIGXCPU'];

/** Calls back at the first signal that ends a program. */
export function onEnding(end: (signal: NodeJS.Signals) => void): void {
  for (const signal of ENDING) {
    // Node keeps some for itself
    try {
      process.on(signal, () => end(signal));
    } catch {}
  }
}
