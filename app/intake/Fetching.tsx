import { useState } from "react";
import { Alert } from "react-bootstrap";
import { Form } from "react-router";
import type { IntakeRow } from "#server/intake/queries";
import type { Fetch } from "#server/supplier/queries";
import { Button } from "../components/Button";
import { Progress } from "../components/Progress";
import { useProgress } from "../view/live";

interface FetchingProps {
  intake: IntakeRow;
  fetch: Fetch;
  mayMake: boolean;
}

/** What a supplier sends: how far it is, or why it did not come and what can be done. */
export function Fetching({ intake, fetch, mayMake }: FetchingProps) {
  const [progress, setProgress] = useState<{ done: number; total: number; what: string }>(intake.progress);
  useProgress(`intake:${intake.id}`, ({ progress }) => setProgress(progress));
  const { supplier, line, order } = fetch;
  const asked = `${order.products.length} ${order.products.length === 1 ? "variant" : "variants"} of ${line} from ${supplier}`;
  if (intake.state === "receiving")
    return (
      <Form method="post" className="reading">
        <Progress label={`Fetching ${asked}`} {...progress} />
        <p className="aside">
          The supplier makes the pictures when they are asked for the first time, which takes its while. It
          goes on without you.
        </p>
        {mayMake && (
          <Button type="submit" name="fetch" value="stop" size="sm" variant="outline-secondary">
            Stop
          </Button>
        )}
      </Form>
    );
  if (intake.state === "failed" && intake.files === 0)
    return (
      <Alert variant="danger">
        <p>
          {intake.failure} It was about {asked}; nothing of it was kept.
        </p>
        {mayMake && (
          <Form method="post">
            <Button type="submit" name="fetch" value="again" size="sm">
              Fetch again
            </Button>
          </Form>
        )}
      </Alert>
    );
  return <p className="aside">{asked.charAt(0).toUpperCase() + asked.slice(1)}.</p>;
}
