import { Form, Link } from "react-router";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listDeliveries } from "#server/delivery/queries";
import { bringUpToDate, listOutOfDate } from "#server/delivery/outOfDate";
import { readPage } from "#server/db/page";
import { Button } from "../components/Button";
import { DeliveryTable } from "../components/DeliveryTable";
import { Empty } from "../components/Empty";
import { Notes } from "../components/Notes";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
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
  const failures = brought?.flatMap(({ failure }) => failure ?? []) ?? [];
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
      {outOfDate.length > 0 && (
        <section className="plan" aria-labelledby="out-of-date">
          <div className="sentence-row">
            <h2 id="out-of-date">Out of date at the destinations: {outOfDate.length}</h2>
            {mayMake && (
              <Form method="post" className="acts">
                <input type="hidden" name="intent" value="bring-up-to-date" />
                <Button type="submit" size="sm">
                  Deliver {outOfDate.length === 1 ? "it" : "them"} again
                </Button>
              </Form>
            )}
          </div>
          <p className="dim">
            Materials, a project or a profile have gone on since. What did not change is left alone.
          </p>
          <DeliveryTable deliveries={outOfDate} />
        </section>
      )}
      {brought && (
        <p role="status">
          {brought.length - failures.length} of {brought.length} are delivered again.
        </p>
      )}
      <Notes title="Could not be delivered again" lines={failures} look />
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
