import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { Asked } from "#server/change/asked";
import type { PlannedChange } from "#server/change/commands";
import type { action } from "../routes/changes";
import { refusalOf } from "../refusal";

/** How long somebody may type on before what it would do is worked out. */
const WAIT_MS = 350;

type Answer = ReturnType<typeof useFetcher<typeof action>>["data"];

interface Planned {
  /** What it would do; undefined until that is worked out, and where it cannot be. */
  plan: PlannedChange | undefined;
  answer: Answer;
  isWorkedOut: boolean;
  start(): void;
  /** The id of the act, once it was asked for. */
  started: string | undefined;
  starting: ReturnType<typeof useFetcher<typeof action>>;
}

/** What an act on materials would do, worked out anew whenever something else is asked for, and the way to ask for it. */
export function usePlanned(wanted: Asked | undefined): Planned {
  const planning = useFetcher<typeof action>();
  const starting = useFetcher<typeof action>();
  const asked = wanted && JSON.stringify(wanted);
  // A plan is of what was asked then, and not of what has been typed since.
  const [planned, setPlanned] = useState<string>();
  const { submit } = planning;
  useEffect(() => {
    if (asked === undefined) return;
    const timer = setTimeout(() => {
      setPlanned(asked);
      void submit({ intent: "plan", asked }, { method: "post", action: "/changes" });
    }, WAIT_MS);
    return () => clearTimeout(timer);
  }, [asked, submit]);
  const answer =
    asked !== undefined && planned === asked && planning.state === "idle" ? planning.data : undefined;
  const isStarted = starting.data && !refusalOf(starting.data) && "change" in starting.data;
  return {
    plan: answer && !refusalOf(answer) && "plan" in answer ? answer.plan : undefined,
    answer,
    isWorkedOut: answer !== undefined,
    start() {
      if (asked !== undefined)
        void starting.submit({ intent: "start", asked }, { method: "post", action: "/changes" });
    },
    started: isStarted ? (starting.data as { change: string }).change : undefined,
    starting,
  };
}
