import { useEffect } from "react";
import { Link, useFetcher } from "react-router";
import type { loader } from "../routes/change";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { useHeard } from "../view/live";
import { countWords, kindWords, STATE_WORDS } from "./changeWords";

/** How often what goes on is asked about, should an event be lost. */
const ASK_AGAIN_MS = 3000;

/** What becomes of an act on many materials, while it goes on and after, with a way to take it back. */
export function ChangeStatus({ id }: { id: string }) {
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
  return (
    <div className="change-status" role="status">
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
