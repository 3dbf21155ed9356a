import { Form, Link } from "react-router";
import { z } from "zod";
import { PRICES } from "#core/library/licence";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { putBack, readHistory } from "#server/history/history";
import { changeLicence } from "#server/licence/changeLicence";
import { findLicence, listCovered, MOST_COVERED } from "#server/licence/queries";
import { termsSchema } from "#server/licence/terms";
import { badField } from "#server/problem";
import { listProjectNames } from "#server/project/queries";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, idOf, look } from "../guard";
import { History } from "../licence/History";
import { Terms } from "../licence/Terms";
import { Samples } from "../tidy/Samples";
import { useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/licence";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.licence.name ?? "Licence"} – Kalonomy` },
];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => {
  const db = database();
  const licence = found(await findLicence(db, idOf(params)), "licence");
  return {
    licence,
    covered: await listCovered(db, licence.id),
    most: MOST_COVERED,
    changes: await readHistory("licence", licence.id),
    projects: (await listProjectNames(db)).map(({ id, name }) => ({ id, name })),
    mayMake: mayDo(person, "make"),
  };
});

const ACTS = intents(
  intent("save", {
    name: z.string("Say what it is called."),
    price: z.enum(PRICES),
    project: z.string().optional(),
    endsOn: z.string().optional(),
    credit: z.string().optional(),
  }),
  intent("put-back", { change: z.string().regex(/^\d{1,18}$/) }),
);

export const action = act(async ({ params, form }: Route.ActionArgs & { form: FormData }) => {
  const fields = fieldsOf(form, ACTS);
  const id = idOf(params);
  if (fields.intent === "put-back") {
    await putBack("licence", id, fields.change);
    return { saved: true };
  }
  const { intent: _, project = null, endsOn = null, credit = null, ...rest } = fields;
  const terms = termsSchema.safeParse({ ...rest, project, endsOn, credit });
  if (!terms.success)
    throw badField(`/${terms.error.issues[0].path.join("/")}`, terms.error.issues[0].message);
  await changeLicence(id, terms.data);
  return { saved: true };
});

/** One licence: its terms, the materials that it covers, and what was changed of it. */
export default function Licence({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { licence, covered, most, changes, projects, mayMake } = loaderData;
  const actionData = useKept(answer);
  useFresh(({ topic }) => topic === "library");
  const inUse = [...new Set(covered.flatMap((one) => one.projects))];
  return (
    <div className="page narrow">
      <p className="path">
        <Link to="/library">Library</Link> / <Link to="/licences">Licences</Link>
      </p>
      <h1>{licence.name}</h1>
      <p>
        It covers{" "}
        {covered.length === 1
          ? "1 material"
          : `${covered.length >= most ? `${most} materials or more` : `${covered.length} materials`}`}
        {inUse.length > 0 ? `, in ${inUse.join(", ")}.` : ", in no project."}
      </p>
      <Samples of={covered} />
      <Form method="post" aria-label="Terms" key={JSON.stringify(licence)}>
        <input type="hidden" name="intent" value="save" />
        <fieldset disabled={!mayMake}>
          <Terms projects={projects} licence={licence} />
          <Refusal result={actionData} />
          {actionData && "saved" in actionData && (
            <p className="saved" role="status">
              Saved.
            </p>
          )}
          <Button type="submit">Save</Button>{" "}
          <span className="dim">What is saved holds for all that it covers.</span>
        </fieldset>
      </Form>
      <h2>What was changed</h2>
      <History changes={changes} mayMake={mayMake} />
    </div>
  );
}
