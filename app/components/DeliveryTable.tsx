import { Link } from "react-router";
import type { DeliveryRow } from "#server/delivery/queries";
import { moment } from "../view/moment";

export const DELIVERY_WORDS: Record<DeliveryRow["state"], string> = {
  planned: "waiting its turn",
  running: "running",
  done: "done",
  failed: "failed",
  cancelled: "cancelled",
};

/** Deliveries, the newest first: what, for which renderer, from when, and whether something has changed since. */
export function DeliveryTable({ deliveries }: { deliveries: DeliveryRow[] }) {
  return (
    <table className="ledger">
      <thead>
        <tr>
          <th scope="col">Delivery</th>
          <th scope="col">Of</th>
          <th scope="col">For</th>
          <th scope="col">To</th>
          <th scope="col">State</th>
          <th scope="col">By</th>
        </tr>
      </thead>
      <tbody>
        {deliveries.map((delivery) => {
          const isNewer = ({ revision, newest }: { revision: number; newest: number }) => newest > revision;
          const newer = delivery.materials.filter(isNewer).length;
          const profiles = delivery.profileRevisions.filter(isNewer).length;
          return (
            <tr key={delivery.id}>
              <td className="number">
                <Link to={`/deliveries/${delivery.id}`}>{moment(delivery.createdAt)}</Link>
              </td>
              <td>
                {delivery.project?.name ??
                  delivery.collection?.name ??
                  delivery.materials
                    .map(({ name }) => name)
                    .slice(0, 2)
                    .join(", ")}
                {!delivery.project &&
                  !delivery.collection &&
                  delivery.materials.length > 2 &&
                  ` and ${delivery.materials.length - 2} more`}
              </td>
              <td>{delivery.profileRevisions.map(({ name }) => name).join("; ")}</td>
              <td>{delivery.destination?.name ?? "archive"}</td>
              <td>
                {delivery.state === "running" && delivery.progress.total > 0
                  ? `running, ${Math.round((100 * delivery.progress.done) / delivery.progress.total)} %`
                  : DELIVERY_WORDS[delivery.state]}
                {delivery.state === "done" && newer > 0 && (
                  <span className="mark look ms-2">{newer} changed since</span>
                )}
                {delivery.state === "done" && delivery.hasOldFacts && (
                  <span className="mark look ms-2">out of date: facts of a product have changed</span>
                )}
                {delivery.state === "done" && profiles > 0 && (
                  <span className="mark look ms-2">out of date: its renderer’s profile has changed</span>
                )}
              </td>
              <td>{delivery.person}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
