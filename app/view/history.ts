/** What was, what is, and what was taken back. */
export interface History<T> {
  past: T[];
  now: T;
  future: T[];
  /** What the last change was to: the next one to the same is one step with it. */
  touched?: string;
}

const MOST = 200;

export const begin = <T>(now: T): History<T> => ({ past: [], now, future: [] });

/** A change; several in a row to the same thing, as a drag or a typed word, are taken back together. */
export function change<T>(history: History<T>, now: T, touched?: string): History<T> {
  if (Object.is(now, history.now)) return history;
  const together = touched !== undefined && touched === history.touched;
  return {
    past: together ? history.past : [...history.past, history.now].slice(-MOST),
    now,
    future: [],
    touched,
  };
}

export function undo<T>({ past, now, future }: History<T>): History<T> {
  if (past.length === 0) return { past, now, future };
  return { past: past.slice(0, -1), now: past.at(-1)!, future: [now, ...future] };
}

export function redo<T>({ past, now, future }: History<T>): History<T> {
  if (future.length === 0) return { past, now, future };
  return { past: [...past, now], now: future[0], future: future.slice(1) };
}
