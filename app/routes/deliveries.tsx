import { Link } from "react-router";
import { database } from "#server/db/database";
import { listDeliveries } from "#server/db/deliveries";
import { DeliveryTable } from "../components/DeliveryTable";
import { Empty } from "../components/Empty";
import { look } from "../guard";
import { useFresh } from "../view/live";
import type { Route } from "./+types/deliveries";

export const meta: Route.MetaFunction = () => [{ title: "Deliveries – Kalonomy" }];

export const loader = look(async () => ({ deliveries: await listDeliveries(database()) }));

export default function Deliveries({ loaderData: { deliveries } }: Route.ComponentProps) {
  useFresh((event) => event.topic === "delivery");
  return (
    <div className="page">
      <h1>Deliveries</h1>
      {deliveries.length === 0 ? (
        <Empty title="Nothing delivered yet">
          <p>
            Select materials in the <Link to="/library">library</Link>, or open a project, and convert them
            for a renderer.
          </p>
        </Empty>
      ) : (
        <DeliveryTable deliveries={deliveries} />
      )}
    </div>
  );
}
