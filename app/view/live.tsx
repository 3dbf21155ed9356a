import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { StudioEvent } from "#server/events/event";
import { eventLine, type Source } from "./eventLine";

type Heard = (event: StudioEvent) => void;

const IsLiveContext = createContext(true);
const LiveContext = createContext<Set<Heard> | null>(null);

/** One stream of events for the whole screen. */
export function LiveProvider({ children }: { children: ReactNode }) {
  const listeners = useRef(new Set<Heard>());
  const { revalidate } = useRevalidator();
  const refresh = useRef(revalidate);
  useEffect(() => {
    refresh.current = revalidate;
  });
  const [isLive, setLive] = useState(true);
  useEffect(
    () =>
      eventLine({
        open: () => new EventSource("/api/v1/events") as Source,
        heard(data) {
          const event = JSON.parse(data) as StudioEvent;
          for (const heard of listeners.current) heard(event);
        },
        told(live) {
          setLive(live);
          // What happened before the line was there, or while it was down, is not told: the page is loaded anew.
          if (live) void refresh.current();
        },
      }),
    [],
  );
  return (
    <IsLiveContext.Provider value={isLive}>
      <LiveContext.Provider value={listeners.current}>{children}</LiveContext.Provider>
    </IsLiveContext.Provider>
  );
}

/** Whether the screen hears what happens; while it does not, what it shows may be old. */
export const useIsLive = (): boolean => useContext(IsLiveContext);

/** Calls back for every event while the component is there. */
export function useLive(heard: Heard): void {
  const listeners = useContext(LiveContext);
  const latest = useRef(heard);
  useEffect(() => {
    latest.current = heard;
  });
  useEffect(() => {
    const call: Heard = (event) => latest.current(event);
    listeners?.add(call);
    return () => void listeners?.delete(call);
  }, [listeners]);
}

/** Loads the page's data again, at most twice a second, when an event concerns it. */
export function useFresh(concerns: (event: StudioEvent) => boolean): void {
  const { revalidate } = useRevalidator();
  const waiting = useRef<number | undefined>(undefined);
  useEffect(() => () => window.clearTimeout(waiting.current), []);
  useLive((event) => {
    if (!concerns(event) || waiting.current !== undefined) return;
    waiting.current = window.setTimeout(() => {
      waiting.current = undefined;
      void revalidate();
    }, 500);
  });
}

/**
 * Loads the page's data again once it is shown, while the work on it goes on: what happened between its loading and
 * its showing was told to nobody.
 */
export function useCatchUp(subject: string, active: boolean): void {
  const { revalidate } = useRevalidator();
  const latest = useRef({ revalidate, active });
  useEffect(() => {
    latest.current = { revalidate, active };
  });
  useEffect(() => {
    if (latest.current.active) void latest.current.revalidate();
  }, [subject]);
}
