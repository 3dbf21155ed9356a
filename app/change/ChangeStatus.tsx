import { useEffect, useRef } from "react";
import { Link, useFetcher } from "react-router";
import type { loader } from "../routes/change";
import { Button } from "../components/Button";
import { Progress } from "../components/Progress";
import { Refusal } from "../components/Refusal";
import { useHeard } from "../view/live";
import { countWords, kindWords, STATE_WORDS } from "./changeWords";

/** How often what goes on is asked about, should an event be lost. */
const ASK_AGAIN_MS = 3000;

interface ChangeStatusProps {
  id: string;
  /** Told once it is over, where some could not be changed. */
  onRefused?(materials: string[]): void;
}

/** What becomes of an act on many materials, while it goes on and after, with a way to take it back. */
export function ChangeStatus({ id, onRefused }: ChangeStatusProps) {
  const { load, data } = useFetcher<typeof loader>();
  const undo = useFetcher<object>();
  const address = `/changes/${id}`;
  useEffect(() => void load(address), [load, address]);
  useHeard((event) => {
    if (event.topic === "change" && event.id === id) void load(address);
  });
  const change = data?.change;
  const goesOn = !change || change.state === "running" || change.state === "undoing";
  useEffect(() => {
    if (!goesOn) return;
    const timer = window.setInterval(() => void load(address), ASK_AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [goesOn, load, address]);
  const refused = goesOn
    ? ""
    : data.items
        .filter(({ state }) => state === "refused")
        .map(({ material }) => material)
        .join(" ");
  const told = useRef(onRefused);
  useEffect(() => {
    told.current = onRefused;
  });
  useEffect(() => {
    if (refused !== "") told.current?.(refused.split(" "));
  }, [refused]);
  return (
    <div className="change-status" role="status">
      {change && goesOn && sum(change.counts) > FEW && (
        <Progress
          label={kindWords(change.kind)}
          what={change.state === "undoing" ? "Taking back" : "Changing"}
          done={sum(change.counts) - (change.counts[change.state === "undoing" ? "changed" : "waiting"] ?? 0)}
          total={sum(change.counts)}
        />
      )}
      {change ? (
        <>
          <strong>{kindWords(change.kind)}:</strong> {countWords(change.counts)}.{" "}
          {change.failure && <span className="mark wrong">{change.failure}</span>}{" "}
          {data.items
            .filter(({ reason }) => reason !== null)
            .slice(0, 3)
            .map(({ material, name, state, reason }) => (
              <span key={material} className="change-reason">
                {name} {STATE_WORDS[state]}: {reason}{" "}
              </span>
            ))}
          {change.canUndo && data.mayMake && (
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => void undo.submit({ intent: "undo" }, { method: "post", action: address })}
            >
              Undo
            </Button>
          )}{" "}
          <Link to={address}>Look</Link>
        </>
      ) : (
        "Saving…"
      )}
      <Refusal result={undo.data} />
    </div>
  );
}

/** So many are done before anybody could read how far it is. */
const FEW = 50;

const sum = (counts: Record<string, number>) => Object.values(counts).reduce((all, one) => all + one, 0);
