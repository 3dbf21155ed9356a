import { ArrowClockwise, ArrowCounterclockwise } from "react-bootstrap-icons";

interface UndoRedoProps {
  back(): void;
  again(): void;
  canGoBack: boolean;
  canGoAgain: boolean;
}

/** Takes changes back and does them again, beside the keys that do the same. */
export function UndoRedo({ back, again, canGoBack, canGoAgain }: UndoRedoProps) {
  return (
    <div className="tool-row" role="group" aria-label="Changes">
      <button type="button" aria-label="Undo" disabled={!canGoBack} onClick={back}>
        <ArrowCounterclockwise aria-hidden="true" />
      </button>
      <button type="button" aria-label="Redo" disabled={!canGoAgain} onClick={again}>
        <ArrowClockwise aria-hidden="true" />
      </button>
    </div>
  );
}
