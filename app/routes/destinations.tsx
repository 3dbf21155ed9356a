import { Form as Fields } from "react-bootstrap";
import { Form, Link } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listDestinations } from "#server/destination/queries";
import { checkLinks, MOST_LINKS } from "#server/links/checkLinks";
import { listLinkLists } from "#server/links/listSql";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { CheckedLinks } from "../destination/CheckedLinks";
import { HandInList } from "../destination/HandInList";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/destinations";

export const meta: Route.MetaFunction = () => [{ title: "Destinations – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  destinations: await listDestinations(database()),
  lists: (await listLinkLists(database()))
    .slice(0, 20)
    .map(({ id, name, state, found, counts }) => ({ id, name, state, found, counts })),
  mayMake: mayDo(person, "make"),
}));

const ACTS = intents(intent("check", { links: z.string("Paste some paths first.").max(4_000_000) }));

export const action = act(async ({ form }: Route.ActionArgs & { form: FormData }) => {
  const fields = fieldsOf(form, ACTS);
  const paths = linesOf(fields.links);
  if (paths.length > MOST_LINKS)
    throw badField("/links", `These are ${paths.length} paths; ${MOST_LINKS} are checked at once.`);
  if (paths.length === 0) throw badField("/links", "Paste some paths first.");
  return { checked: await checkLinks(paths) };
});

const linesOf = (text: string) =>
  text
    .split(/\r?\n/)
    .map((line) =>
      line
        .trim()
        .replace(/^"(.*)"$/, "$1")
        .slice(0, 1000),
    )
    .filter(Boolean);

/** Where deliveries are written, how people's machines reach them, and whether links lead there. */
export default function Destinations({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { destinations, lists, mayMake } = loaderData;
  const actionData = useKept(answer);
  const checked = actionData && "checked" in actionData ? actionData.checked : undefined;
  return (
    <div className="page">
      <p className="path">
        <Link to="/deliveries">Deliveries</Link>
      </p>
      <h1>Destinations</h1>
      <Refusal result={actionData} />
      {destinations.length === 0 && (
        <Empty title="There is no destination yet">
          Name one when you convert something: it becomes a folder that everybody reaches.
        </Empty>
      )}
      {destinations.length > 0 && (
        <table className="ledger">
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Folder</th>
              <th scope="col">As people’s machines see it</th>
            </tr>
          </thead>
          <tbody>
            {destinations.map(({ id, name, folder, paths }) => (
              <tr key={id}>
                <th scope="row">
                  <Link to={`/destinations/${id}`}>{name}</Link>
                </th>
                <td className="file">{folder}/</td>
                <td className="file">
                  {paths.length === 0 && "–"}
                  {paths.map(({ system, path }) => (
                    <div key={system}>{path}</div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <h2>Check links</h2>
      <p>
        Paste the paths that a scene or a list has, one a line: each is looked for at the destinations, where
        it says and under its name elsewhere.
      </p>
      <Form method="post" preventScrollReset>
        <input type="hidden" name="intent" value="check" />
        <Fields.Group controlId="links" className="mb-2">
          <Fields.Label>Paths</Fields.Label>
          <Fields.Control as="textarea" rows={5} name="links" className="file" spellCheck={false} />
        </Fields.Group>
        <Button type="submit" size="sm">
          Check
        </Button>
      </Form>
      {mayMake && <HandInList />}
      {checked && <CheckedLinks links={checked} />}
      {lists.length > 0 && (
        <>
          <h3>Handed in before</h3>
          <table className="ledger tight">
            <tbody>
              {lists.map(({ id, name, state, found, counts }) => (
                <tr key={id}>
                  <th scope="row">
                    <Link to={`/links/${id}`}>{name}</Link>
                  </th>
                  <td>
                    {state === "done"
                      ? `${found} paths, ${counts.moved ?? 0} moved, ${counts.unknown ?? 0} not known`
                      : state === "failed"
                        ? "could not be read"
                        : "being read"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
