import { Fragment } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, Link } from "react-router";
import { z } from "zod";
import { seenPathSchema, type SeenPath } from "#core/library/seenPath";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { listKeepingProjects } from "#server/delivery/kept";
import { bringUpToDate, listOutOfDate } from "#server/delivery/outOfDate";
import { startCheck } from "#server/destination/check";
import { FINDING_STATES, lastCheck, listFindings } from "#server/destination/checkSql";
import { setDestinationPaths } from "#server/destination/commands";
import { findDestination, type DestinationRow } from "#server/destination/queries";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { CopyText } from "../components/CopyText";
import { Refusal } from "../components/Refusal";
import { FilesThere } from "../destination/FilesThere";
import { OutOfDate } from "../destination/OutOfDate";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, idOf, look } from "../guard";
import { useCatchUp, useFresh } from "../view/live";
import { useTitleBlock } from "../view/titleBlock";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/destination";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.destination.name ?? "Destination"} – Kalonomy` },
];

/** Of each state so many findings are shown; the rest is counted. */
const SHOWN = 200;

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const destination = found(await findDestination(database(), idOf(params)), "destination");
  const check = await lastCheck(database(), destination.id);
  const findings = check
    ? await Promise.all(FINDING_STATES.map((state) => listFindings(database(), check.id, state, SHOWN)))
    : [];
  return {
    destination,
    check,
    findings: findings.flat(),
    outOfDate: await listOutOfDate(database(), { destination: destination.id }),
    keeping: await listKeepingProjects(database(), destination.id),
    mayMake: mayDo(person, "make"),
  };
});

const ACTS = intents(
  intent("paths", { paths: z.string().max(4000).default("") }),
  intent("look"),
  intent("mend"),
  intent("bring-up-to-date"),
);

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const fields = fieldsOf(form, ACTS);
    const id = idOf(params);
    switch (fields.intent) {
      case "paths":
        await setDestinationPaths(id, readPaths(fields.paths));
        return null;
      case "bring-up-to-date":
        return { brought: await bringUpToDate(person, { destination: id }) };
      default:
        await startCheck(id, fields.intent === "mend", person);
        return null;
    }
  },
);

/** Lines of “Windows = S:\\Textures”. */
function readPaths(text: string): SeenPath[] {
  const lines = text.split(/\r?\n/).map((line) => line.trim().slice(0, 1000));
  return lines.filter(Boolean).map((line) => {
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

/** One destination: where it lies, what is out of date there, and whether its files are as they were delivered. */
export default function Destination({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { destination, check, findings, outOfDate, keeping, mayMake } = loaderData;
  const actionData = useKept(answer);
  const brought = actionData && "brought" in actionData ? actionData.brought : undefined;
  useFresh(
    (event) => (event.topic === "library" && event.id === destination.id) || event.topic === "delivery",
  );
  useCatchUp(destination.id, check?.state === "looking");
  useTitleBlock(destination.name, `${destination.folder}/`);
  return (
    <div className="page">
      <p className="path">
        <Link to="/deliveries">Deliveries</Link> / <Link to="/destinations">Destinations and links</Link>
      </p>
      <h1>
        {destination.name} <span className="file dim">{destination.folder}/</span>
      </h1>
      <Refusal result={actionData} />
      {check?.state === "failed" && (
        <Alert variant="warning" role="alert">
          {check.failure}
        </Alert>
      )}
      <Seen destination={destination} mayMake={mayMake} />
      {keeping.length > 0 && (
        <p>
          Kept up to date by{" "}
          {keeping.map(({ id, name }, at) => (
            <Fragment key={id}>
              {at > 0 && ", "}
              <Link to={`/projects/${id}`}>{name}</Link>
            </Fragment>
          ))}
          .
        </p>
      )}
      <OutOfDate deliveries={outOfDate} brought={brought} mayMake={mayMake} where="here" />
      <FilesThere check={check} findings={findings} mayMake={mayMake} />
    </div>
  );
}

/** Where it lies as people's machines see it. */
function Seen({ destination: { id, paths }, mayMake }: { destination: DestinationRow; mayMake: boolean }) {
  return (
    <section className="plan" aria-labelledby="seen">
      <h2 id="seen">Where it lies</h2>
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
