import { Link } from "react-router";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listDeliveries } from "#server/delivery/queries";
import { bringUpToDate, listOutOfDate } from "#server/delivery/outOfDate";
import { readPage } from "#server/db/page";
import { DeliveryTable } from "../components/DeliveryTable";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
import { OutOfDate } from "../destination/OutOfDate";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { pageIn } from "../pageIn";
import { useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/deliveries";

export const meta: Route.MetaFunction = () => [{ title: "Deliveries – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => ({
  ...(await readPage(pageIn(request), (slice) => listDeliveries(database(), slice))),
  outOfDate: await listOutOfDate(database()),
  mayMake: mayDo(person, "make"),
}));

const ACTS = intents(intent("bring-up-to-date"));

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  fieldsOf(form, ACTS);
  return { brought: await bringUpToDate(person) };
});

export default function Deliveries({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { items, page, next, outOfDate, mayMake } = loaderData;
  const actionData = useKept(answer);
  const brought = actionData && "brought" in actionData ? actionData.brought : undefined;
  useFresh((event) => event.topic === "delivery");
  return (
    <div className="page">
      <div className="sentence-row">
        <h1>Deliveries</h1>
        <div className="acts">
          <Link className="btn btn-outline-secondary btn-sm" to="/destinations">
            Destinations and links
          </Link>
        </div>
      </div>
      <Refusal result={actionData} />
      <OutOfDate deliveries={outOfDate} brought={brought} mayMake={mayMake} where="at the destinations" />
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
