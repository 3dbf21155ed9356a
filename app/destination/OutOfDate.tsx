import { useId } from "react";
import { Form } from "react-router";
import type { DeliveryRow } from "#server/delivery/queries";
import { Button } from "../components/Button";
import { DeliveryTable } from "../components/DeliveryTable";
import { Notes } from "../components/Notes";

/**
 * What was delivered and has been overtaken, with the act that delivers it again.
 * @param where “at the destinations”, “here”
 * @param brought what became of delivering it again
 */
export function OutOfDate({
  deliveries,
  brought,
  mayMake,
  where,
}: {
  deliveries: DeliveryRow[];
  brought: { failure: string | null }[] | undefined;
  mayMake: boolean;
  where: string;
}) {
  const id = useId();
  const failures = brought?.flatMap(({ failure }) => failure ?? []) ?? [];
  return (
    <>
      {deliveries.length > 0 && (
        <section className="plan" aria-labelledby={id}>
          <div className="sentence-row">
            <h2 id={id}>
              Out of date {where}: {deliveries.length}
            </h2>
            {mayMake && (
              <Form method="post" className="acts" preventScrollReset>
                <input type="hidden" name="intent" value="bring-up-to-date" />
                <Button type="submit" size="sm">
                  Deliver {deliveries.length === 1 ? "it" : "them"} again
                </Button>
              </Form>
            )}
          </div>
          <p className="dim">
            Materials, a project or a profile have gone on since. What did not change is left alone.
          </p>
          <DeliveryTable deliveries={deliveries} />
        </section>
      )}
      {brought && (
        <p role="status">
          {brought.length - failures.length} of {brought.length} are delivered again.
        </p>
      )}
      <Notes title="Could not be delivered again" lines={failures} look />
    </>
  );
}
