import { useRevalidator, useRouteError } from "react-router";
import { Button } from "./Button";
import { ErrorNotice } from "./ErrorNotice";

/** In place of one step of the bench that failed: the other steps, and what is set in them, stay where they are. */
export function StepError() {
  const error = useRouteError();
  const { revalidate, state } = useRevalidator();
  return (
    <section className="notice" role="alert" aria-label="This step">
      <ErrorNotice error={error} />
      <Button type="button" size="sm" disabled={state !== "idle"} onClick={() => void revalidate()}>
        Load again
      </Button>
    </section>
  );
}
