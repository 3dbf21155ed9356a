import { useEffect, useRef, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, Link, useNavigation } from "react-router";
import { z } from "zod";
import { FAMILIES } from "#core/finish/family";
import { database } from "#server/db/database";
import { listLicences } from "#server/licence/queries";
import { listSupplierNames } from "#server/supplier/queries";
import { listProjectNames } from "#server/project/queries";
import { putBack, readHistory } from "#server/history/history";
import { jsonField } from "#server/http/cleanForm";
import { changeFacts, factsSeenSchema } from "#server/material/facts";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf } from "../fieldsOf";
import { readFacts } from "../facts/readFacts";
import { act, idOf, look } from "../guard";
import { History } from "../licence/History";
import { PRICE_WORDS } from "../licence/priceWords";
import { Terms } from "../licence/Terms";
import { refusalOf } from "../refusal";
import { useBench } from "../view/useBench";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFacts";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const db = database();
  return {
    changes: await readHistory("material", idOf(params)),
    licences: await listLicences(db),
    suppliers: await listSupplierNames(db),
    projects: (await listProjectNames(db)).map(({ id, name }) => ({ id, name })),
  };
});

export const action = act(async ({ params, form }: Route.ActionArgs & { form: FormData }) => {
  if (form.get("intent") === "put-back") {
    const { change } = fieldsOf(form, z.object({ change: z.string().regex(/^\d{1,18}$/) }));
    await putBack("material", idOf(params), change);
    return { isPutBack: true };
  }
  const seen = form.has("seen")
    ? { ...seenIn(String(form.get("seen"))), isOver: form.get("over") === "yes" }
    : undefined;
  await changeFacts(idOf(params), readFacts(form), seen);
  return { saved: true };
});

/** @throws {Problem} where it is not what the form had */
function seenIn(json: string) {
  const seen = factsSeenSchema.safeParse(jsonField(json));
  if (!seen.success) throw badField("/seen", "What was sent is not the whole form. Load the page again.");
  return seen.data;
}

const FAMILY_FROM = {
  sheet: "by the product sheet",
  name: "proposed by a word in its name",
  folder: "proposed by the folder that it came in",
  maps: "proposed by its metalness",
  look: "proposed by what looks like it",
  person: "said by one of you",
  nothing: "nothing says it: not its name, its folder or its picture",
} as const;

/** What a material is, where it comes from, and what may be done with it. */
export default function BenchFacts({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { licences, suppliers, projects, changes } = loaderData;
  const actionData = useKept(answer);
  const { material, mayMake } = useBench();
  const { source, licence } = material;
  // As the fields began: what others save meanwhile comes to the page, and not into them.
  const [seen, setSeen] = useState(() => seenOf(material));
  const [round, setRound] = useState(0);
  const now = JSON.stringify(seenOf(material));
  const { state } = useNavigation();
  const busy = state === "submitting";
  // Once for each answer, when what it has saved has come back: what others save later is not ours.
  const taken = useRef<typeof answer>(undefined);
  useEffect(() => {
    if (state !== "idle" || !answer || answer === taken.current || refusalOf(answer)) return;
    taken.current = answer;
    setSeen(JSON.parse(now) as typeof seen);
    // What was put back is to be seen in the fields, or saving them would undo it.
    if ("isPutBack" in answer) setRound((before) => before + 1);
  }, [state, answer, now]);
  const [choice, setChoice] = useState(licence?.id ?? "");
  // What was saved as a new one is a known one from then on.
  useEffect(() => setChoice(licence?.id ?? ""), [licence?.id]);
  const chosen = licences.find(({ id }) => id === choice);
  const field = (
    name: "product" | "productCode" | "page",
    label: string,
    hint: string,
    type = "text",
    most = 200,
  ) => (
    <Fields.Group controlId={name}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control name={name} type={type} defaultValue={source[name] ?? ""} maxLength={most} />
      <Fields.Text>{hint}</Fields.Text>
    </Fields.Group>
  );
  return (
    <div className="page narrow">
      <h2>Facts</h2>
      <p>They belong to the material in all its revisions; a delivery says what the licence asks for.</p>
      <Form key={round} method="post" aria-label="Facts">
        <input type="hidden" name="seen" value={JSON.stringify(seen)} />
        {refusalOf(actionData)?.status === 409 && <input type="hidden" name="over" value="yes" />}
        <fieldset disabled={!mayMake}>
          <div className="fields">
            <Fields.Group controlId="family">
              <Fields.Label>Family</Fields.Label>
              <Fields.Select key={material.family} name="family" defaultValue={material.family ?? ""}>
                <option value="">none of these</option>
                {FAMILIES.map((family) => (
                  <option key={family}>{family}</option>
                ))}
              </Fields.Select>
              <Fields.Text>{FAMILY_FROM[material.familyFrom ?? "nothing"]}</Fields.Text>
            </Fields.Group>
            <Fields.Group controlId="tags">
              <Fields.Label>Tags</Fields.Label>
              <Fields.Control
                key={material.tags.join()}
                name="tags"
                defaultValue={material.tags.join(", ")}
                maxLength={1200}
              />
              <Fields.Text>words of your own, with commas between them</Fields.Text>
            </Fields.Group>
          </div>
          <div className="fields">
            <Fields.Group controlId="supplier">
              <Fields.Label>Supplier</Fields.Label>
              <Fields.Control
                name="supplier"
                list="suppliers"
                defaultValue={source.supplier ?? ""}
                maxLength={200}
              />
              <Fields.Text>who makes or offers it</Fields.Text>
              <datalist id="suppliers">
                {suppliers.map((name) => (
                  <option key={name} value={name} />
                ))}
              </datalist>
            </Fields.Group>
            {field("product", "Product", "as the supplier calls it")}
            {field("productCode", "Product code", "for orders and schedules")}
            {field("page", "Page", "where it is described, https://…", "url", 1000)}
          </div>
          <Fields.Group controlId="licence" className="mb-3">
            <Fields.Label>Licence</Fields.Label>
            <Fields.Select
              name="licence"
              value={choice}
              onChange={({ target: { value } }) => setChoice(value)}
            >
              <option value="">not known</option>
              {licences.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
              <option value="new">another one…</option>
            </Fields.Select>
            {chosen && (
              <Fields.Text>
                {termsOf(chosen)}. <Link to={`/licences/${chosen.id}`}>Open it</Link>
              </Fields.Text>
            )}
          </Fields.Group>
          {choice === "new" && <Terms projects={projects} />}
          <Refusal result={actionData} />
          {actionData && "saved" in actionData && !busy && (
            <p className="saved" role="status">
              Saved.
            </p>
          )}
          <Button type="submit" disabled={busy}>
            Save
          </Button>
        </fieldset>
      </Form>
      <h3>What was changed</h3>
      <History changes={changes} mayMake={mayMake} />
    </div>
  );
}

/** What the fields show, to tell at saving what somebody else has changed meanwhile. */
const seenOf = ({ source, family, tags, licence }: ReturnType<typeof useBench>["material"]) => ({
  ...{
    supplier: source.supplier,
    product: source.product,
    productCode: source.productCode,
    page: source.page,
  },
  ...{ family, tags, licence: licence?.id ?? null },
});

type Known = Route.ComponentProps["loaderData"]["licences"][number];

function termsOf({ price, projectName, endsOn, credit }: Known): string {
  const terms = [
    price === "unknown" ? "price not known" : PRICE_WORDS[price],
    projectName ? `for ${projectName} alone` : "for every project",
    endsOn && `until ${endsOn}`,
    credit && `name ${credit}`,
  ];
  return terms.filter(Boolean).join(", ");
}
