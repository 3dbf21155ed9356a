import { useState } from "react";
import type { IntakeRow } from "#server/intake/queries";
import { Button } from "../components/Button";
import { Progress } from "../components/Progress";
import { useProgress } from "../view/live";

/** How far a reading is, and what can be asked of it: to wait, to go on, to stop with what it has. */
export function Reading({ intake, mayMake }: { intake: IntakeRow; mayMake: boolean }) {
  const [progress, setProgress] = useState<Omit<IntakeRow["progress"], "left"> & { left?: number | null }>(
    intake.progress,
  );
  useProgress(`intake:${intake.id}`, ({ progress }) => setProgress(progress));
  const paused = intake.hold === "pause";
  return (
    <div className="reading">
      {paused ? (
        <p className="aside">
          It waits, after {progress.done} of {progress.total || "its"} files. What was read stays read.
        </p>
      ) : (
        <>
          <Progress label={intake.hold === "stop" ? "Stopping" : "Reading"} {...progress} />
          <p className="aside">
            {progress.total > 0 && `${progress.done} of ${progress.total}. `}It goes on without you: leave
            this page and come back whenever you like.
          </p>
        </>
      )}
      {mayMake && intake.hold !== "stop" && (
        <div className="acts">
          <Button
            type="submit"
            name="hold"
            value={paused ? "go-on" : "pause"}
            size="sm"
            variant="outline-secondary"
          >
            {paused ? "Go on" : "Pause"}
          </Button>
          <Button type="submit" name="hold" value="stop" size="sm" variant="outline-secondary">
            Stop with what was read
          </Button>
        </div>
      )}
    </div>
  );
}
