import { useCallback, useEffect, useState } from "react";
import { begin, change, redo, undo } from "./history";

/** Whether somebody is typing: there the browser's own undo counts. */
const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.matches("input, textarea, select") || target.isContentEditable);

/** State whose changes can be taken back, by buttons and by the keys that every program has for it. */
export function useHistory<T>(start: () => T) {
  const [history, setHistory] = useState(() => begin(start()));
  const set = useCallback(
    (make: (before: T) => T, touched?: string) =>
      setHistory((before) => change(before, make(before.now), touched)),
    [],
  );
  const [saved, setSaved] = useState(history.now);
  const reset = useCallback((now: T) => {
    setHistory(begin(now));
    setSaved(now);
  }, []);
  const back = useCallback(() => setHistory(undo), []);
  const again = useCallback(() => setHistory(redo), []);
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || typing(event.target)) return;
      const letter = event.key.toLowerCase();
      if (letter === "z") setHistory(event.shiftKey ? redo : undo);
      else if (letter === "y") setHistory(redo);
      else return;
      event.preventDefault();
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, []);
  return {
    now: history.now,
    set,
    /** What was begun with, or saved last: the same object as `now` where nothing has changed since. */
    saved,
    /** What is now is saved. */
    markSaved: () => setSaved(history.now),
    /** Begins anew: nothing can be taken back. */
    reset,
    back,
    again,
    canGoBack: history.past.length > 0,
    canGoAgain: history.future.length > 0,
  };
}
