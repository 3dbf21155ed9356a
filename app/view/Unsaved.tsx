import { useCallback, useId } from "react";
import { Modal } from "react-bootstrap";
import { useBeforeUnload, useBlocker } from "react-router";
import { Button } from "../components/Button";

interface UnsavedProps {
  /** Whether something is changed, and not saved. */
  when: boolean;
  /** What it is, as in "What you changed of the finish". */
  what: string;
}

/** Asks before somebody leaves a page whose changes would be lost. */
export function Unsaved({ when, what }: UnsavedProps) {
  const id = useId();
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => when && currentLocation.pathname !== nextLocation.pathname,
  );
  useBeforeUnload(
    useCallback(
      (event: BeforeUnloadEvent) => {
        if (when) event.preventDefault();
      },
      [when],
    ),
  );
  const stay = () => blocker.reset?.();
  return (
    <Modal show={blocker.state === "blocked"} onHide={stay} aria-labelledby={id}>
      <Modal.Header closeButton>
        <Modal.Title id={id}>Leave without saving?</Modal.Title>
      </Modal.Header>
      <Modal.Body>What you changed of {what} is not saved, and would be lost.</Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={() => blocker.proceed?.()}>
          Leave
        </Button>
        <Button autoFocus onClick={stay}>
          Stay
        </Button>
      </Modal.Footer>
    </Modal>
  );
}
