import { Link } from "react-router";
import { database } from "#server/db/database";
import { listDeliveries } from "#server/delivery/queries";
import { readPage } from "#server/db/page";
import { DeliveryTable } from "../components/DeliveryTable";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { look } from "../guard";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import type { Route } from "./+types/deliveries";

export const meta: Route.MetaFunction = () => [{ title: "Deliveries – Kalonomy" }];

export const loader = look(({ request }: Route.LoaderArgs) =>
  readPage(pageIn(request), (slice) => listDeliveries(database(), slice)),
);

export default function Deliveries({ loaderData: { items, page, next } }: Route.ComponentProps) {
  useFresh((event) => event.topic === "delivery");
  return (
    <div className="page">
      <h1>Deliveries</h1>
      {items.length === 0 ? (
        <Empty title="Nothing delivered yet">
          <p>
            Select materials in the <Link to="/library">library</Link>, or open a project, and convert them
            for a renderer.
          </p>
        </Empty>
      ) : (
        <DeliveryTable deliveries={items} />
      )}
      <Pages page={page} next={next} />
    </div>
  );
}
