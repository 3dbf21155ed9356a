import { createContext, useContext, useEffect, useRef, useState, type ReactNode } from "react";
import { useRevalidator } from "react-router";
import type { StudioEvent } from "#server/events/event";
import { eventLine, type Source } from "./eventLine";
import { freshAfter } from "./freshAfter";

type Heard = (event: StudioEvent) => void;
type Work = "intake" | "delivery" | "flattening";
/** Of all work of a kind, or of one of them; a flattening goes by its photograph. */
type Steps = Work | `${Work}:${string}`;

interface Live {
  listeners: Set<Heard>;
  /** Asks for how far some work is, until the returned function is called. */
  follow(steps: Steps): () => void;
}

const IsLiveContext = createContext(true);
const LiveContext = createContext<Live | null>(null);

/** One stream of events for the whole screen; how far some work is comes where a part of the screen follows it. */
export function LiveProvider({ children }: { children: ReactNode }) {
  const [listeners] = useState(() => new Set<Heard>());
  const [followed, setFollowed] = useState<Steps[]>([]);
  const { revalidate } = useRevalidator();
  const refresh = useRef(revalidate);
  useEffect(() => {
    refresh.current = revalidate;
  });
  const [isLive, setLive] = useState(true);
  const line = useRef<(() => void) | undefined>(undefined);
  const steps = [...new Set(followed)].sort().join(",");
  useEffect(() => {
    // Another line takes over from the one before once it is there, so that nothing is missed between them.
    let former = line.current;
    const leaveFormer = () => {
      former?.();
      former = undefined;
    };
    let hasTakenOver = former === undefined;
    const end = eventLine({
      open: () => new EventSource(`/api/v1/events?steps=${steps}`) as Source,
      heard(data) {
        const event = JSON.parse(data) as StudioEvent;
        for (const heard of listeners) heard(event);
      },
      told(live) {
        setLive(live);
        if (!live) return;
        leaveFormer();
        // What happened before the line was there, or while it was down, is not told: the page is loaded anew.
        if (hasTakenOver) void refresh.current();
        hasTakenOver = true;
      },
    });
    line.current = () => {
      leaveFormer();
      end();
    };
  }, [steps, listeners]);
  useEffect(() => () => line.current?.(), []);
  const [live] = useState<Live>(() => ({
    listeners,
    follow(steps) {
      setFollowed((before) => [...before, steps]);
      return () => setFollowed((before) => before.filter((_, at) => at !== before.indexOf(steps)));
    },
  }));
  return (
    <IsLiveContext.Provider value={isLive}>
      <LiveContext.Provider value={live}>{children}</LiveContext.Provider>
    </IsLiveContext.Provider>
  );
}

/** Whether the screen hears what happens; while it does not, what it shows may be old. */
export const useIsLive = (): boolean => useContext(IsLiveContext);

/** Calls back for every event while the component is there. */
export function useHeard(heard: Heard): void {
  const live = useContext(LiveContext);
  const latest = useRef(heard);
  useEffect(() => {
    latest.current = heard;
  });
  useEffect(() => {
    const call: Heard = (event) => latest.current(event);
    live?.listeners.add(call);
    return () => void live?.listeners.delete(call);
  }, [live]);
}

/** Asks for how far some work is, for what else on the screen hears of it. */
export function useFollow(steps: Steps): void {
  const live = useContext(LiveContext);
  useEffect(() => live?.follow(steps), [live, steps]);
}

/** Calls back with how far some work is, each time it is further. */
export function useProgress(
  steps: Steps,
  told: (event: StudioEvent & Pick<Required<StudioEvent>, "progress">) => void,
): void {
  useFollow(steps);
  useHeard(({ progress, ...event }) => {
    if (progress && [event.topic, `${event.topic}:${event.id}`].includes(steps)) told({ ...event, progress });
  });
}

/** Loads the page's data again when an event concerns it: as soon as `freshAfter` says, and not while nobody sees the page. */
export function useFresh(concerns: (event: StudioEvent) => boolean): void {
  const { revalidate } = useRevalidator();
  const waiting = useRef<number | undefined>(undefined);
  const tookMs = useRef(0);
  const leaving = useRef<AbortSignal | undefined>(undefined);
  useEffect(() => {
    const left = new AbortController();
    leaving.current = left.signal;
    return () => {
      left.abort();
      window.clearTimeout(waiting.current);
      waiting.current = undefined;
    };
  }, []);
  useHeard((event) => {
    if (!concerns(event) || waiting.current !== undefined) return;
    const load = () => {
      if (document.hidden) {
        const signal = leaving.current;
        return document.addEventListener("visibilitychange", load, { once: true, signal });
      }
      waiting.current = undefined;
      const start = performance.now();
      void revalidate().then(() => (tookMs.current = performance.now() - start));
    };
    waiting.current = window.setTimeout(load, freshAfter(tookMs.current, Math.random()));
  });
}

/** How often a page whose work goes on is loaded again, should an event be lost. */
const LOOK_AGAIN_MS = 15_000;

/**
 * Loads the page's data again once it is shown, and now and then, while the work on it goes on: what happened between its
 * loading and its showing was told to nobody.
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
  useEffect(() => {
    if (!active) return;
    const again = window.setInterval(() => {
      if (!document.hidden) void latest.current.revalidate();
    }, LOOK_AGAIN_MS);
    return () => window.clearInterval(again);
  }, [subject, active]);
}
