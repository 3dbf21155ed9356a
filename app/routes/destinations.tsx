import { Form as Fields } from "react-bootstrap";
import { Form, Link } from "react-router";
import { z } from "zod";
import { seenPathSchema, type SeenPath } from "#core/library/seenPath";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { setDestinationPaths } from "#server/destination/commands";
import { listDestinations, type DestinationRow } from "#server/destination/queries";
import { checkLinks, MOST_LINKS, type CheckedLink } from "#server/links/checkLinks";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { CopyText } from "../components/CopyText";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/destinations";

export const meta: Route.MetaFunction = () => [{ title: "Destinations – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  destinations: await listDestinations(database()),
  mayMake: mayDo(person, "make"),
}));

const ACTS = intents(
  intent("paths", { destination: z.uuid(), paths: z.string().max(4000).default("") }),
  intent("check", { links: z.string("Paste some paths first.").max(4_000_000) }),
);

export const action = act(async ({ form }: Route.ActionArgs & { form: FormData }) => {
  const fields = fieldsOf(form, ACTS);
  if (fields.intent === "paths") {
    await setDestinationPaths(fields.destination, readPaths(fields.paths));
    return null;
  }
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

/** Lines of “Windows = S:\\Textures”. */
function readPaths(text: string): SeenPath[] {
  return linesOf(text).map((line) => {
    const at = line.indexOf("=");
    const read = seenPathSchema.safeParse({
      system: line.slice(0, Math.max(0, at)),
      path: line.slice(at + 1),
    });
    if (read.success) return read.data;
    throw badField(
      "/paths",
      `“${line.slice(0, 80)}”: ${read.error.issues[0].message} Write it as: Windows = S:\\Textures`,
    );
  });
}

const STATES: Record<CheckedLink["state"], [words: string, mark: string]> = {
  there: ["there", "known"],
  replaced: ["there, and the material has a newer revision", "look"],
  moved: ["moved", "look"],
  unknown: ["not known here", "wrong"],
};

/** Where deliveries are written, how people's machines reach them, and whether links lead there. */
export default function Destinations({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { destinations, mayMake } = loaderData;
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
      {destinations.map((destination) => (
        <Destination key={destination.id} destination={destination} mayMake={mayMake} />
      ))}
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
      {checked && <Checked links={checked} />}
    </div>
  );
}

function Destination({ destination, mayMake }: { destination: DestinationRow; mayMake: boolean }) {
  const { id, name, folder, paths } = destination;
  return (
    <section className="plan">
      <h2>
        {name} <span className="file dim">{folder}/</span>
      </h2>
      {paths.length > 0 && (
        <table className="ledger tight">
          <tbody>
            {paths.map(({ system, path }) => (
              <tr key={system}>
                <th scope="row">{system}</th>
                <td className="file">{path}</td>
                <td>
                  <CopyText text={path} what={`the path for ${system}`} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {mayMake && (
        <details>
          <summary>
            {paths.length === 0 ? "Say where it lies as people’s machines see it" : "Change where it lies"}
          </summary>
          <Form method="post" preventScrollReset>
            <input type="hidden" name="intent" value="paths" />
            <input type="hidden" name="destination" value={id} />
            <Fields.Group controlId={`paths-${id}`} className="mb-2">
              <Fields.Label>One line for each kind of machine, as: Windows = S:\Textures</Fields.Label>
              <Fields.Control
                as="textarea"
                rows={3}
                name="paths"
                className="file"
                spellCheck={false}
                defaultValue={paths.map(({ system, path }) => `${system} = ${path}`).join("\n")}
              />
            </Fields.Group>
            <Button type="submit" size="sm" variant="outline-secondary">
              Save
            </Button>
          </Form>
        </details>
      )}
    </section>
  );
}

/** How many are shown; the rest is counted. */
const SHOWN = 500;

function Checked({ links }: { links: CheckedLink[] }) {
  const counts = Object.keys(STATES).map((state) => links.filter((link) => link.state === state).length);
  const moved = links.filter(({ now }) => now !== null);
  return (
    <section aria-label="What was found">
      <p role="status">
        {links.length} paths: {counts[0]} there, {counts[1]} with a newer revision, {counts[2]} moved,{" "}
        {counts[3]} not known here.{" "}
        {moved.length > 0 && (
          <CopyText
            text={moved.map(({ path, now }) => `${path}\t${now}`).join("\n")}
            what="old and new paths of what moved"
          />
        )}
      </p>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">Path</th>
            <th scope="col">Is</th>
            <th scope="col">Now</th>
          </tr>
        </thead>
        <tbody>
          {links.slice(0, SHOWN).map(({ path, state, destination, now }, at) => (
            <tr key={at}>
              <td className="file">{path}</td>
              <td>
                <span className={`mark ${STATES[state][1]}`}>{STATES[state][0]}</span>
                {destination && <span className="dim"> {destination}</span>}
              </td>
              <td className="file">{now}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {links.length > SHOWN && <p className="dim">and {links.length - SHOWN} more</p>}
    </section>
  );
}
