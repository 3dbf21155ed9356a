import { useEffect, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, useNavigation } from "react-router";
import { FAMILIES } from "#core/finish/family";
import { PRICES } from "#core/library/licence";
import { database } from "#server/db/database";
import { listLicences } from "#server/licence/queries";
import { listSupplierNames } from "#server/supplier/queries";
import { listProjectNames } from "#server/project/queries";
import { changeFacts } from "#server/material/facts";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { readFacts } from "../facts/readFacts";
import { act, idOf, look } from "../guard";
import { useBench } from "../view/useBench";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFacts";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async () => {
  const db = database();
  return {
    licences: await listLicences(db),
    suppliers: await listSupplierNames(db),
    projects: (await listProjectNames(db)).map(({ id, name }) => ({ id, name })),
  };
});

export const action = act(async ({ params, form }: Route.ActionArgs & { form: FormData }) => {
  await changeFacts(idOf(params), readFacts(form));
  return { saved: true };
});

const PRICE_WORDS = { free: "free", bought: "bought", unknown: "not known" } as const;

const FAMILY_FROM = {
  sheet: "by the product sheet",
  name: "proposed by a word in its name",
  folder: "proposed by the folder that it came in",
  person: "said by one of you",
  nothing: "neither its name nor its folder says it",
} as const;

/** What a material is, where it comes from, and what may be done with it. */
export default function BenchFacts({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { licences, suppliers, projects } = loaderData;
  const actionData = useKept(answer);
  const { material, mayMake } = useBench();
  const { source, licence } = material;
  const busy = useNavigation().state === "submitting";
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
      <Form method="post" aria-label="Facts">
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
            {chosen && <Fields.Text>{termsOf(chosen)}</Fields.Text>}
          </Fields.Group>
          {choice === "new" && (
            <div className="fields">
              <Fields.Group controlId="name">
                <Fields.Label>What it is called</Fields.Label>
                <Fields.Control name="name" required maxLength={200} />
              </Fields.Group>
              <Fields.Group controlId="price">
                <Fields.Label>Price</Fields.Label>
                <Fields.Select name="price" defaultValue="unknown">
                  {PRICES.map((price) => (
                    <option key={price} value={price}>
                      {PRICE_WORDS[price]}
                    </option>
                  ))}
                </Fields.Select>
              </Fields.Group>
              <Fields.Group controlId="project">
                <Fields.Label>For</Fields.Label>
                <Fields.Select name="project">
                  <option value="">every project</option>
                  {projects.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name} alone
                    </option>
                  ))}
                </Fields.Select>
              </Fields.Group>
              <Fields.Group controlId="endsOn">
                <Fields.Label>Last day</Fields.Label>
                <Fields.Control name="endsOn" type="date" />
                <Fields.Text>empty: for ever</Fields.Text>
              </Fields.Group>
              <Fields.Group controlId="credit">
                <Fields.Label>Whom to name</Fields.Label>
                <Fields.Control name="credit" maxLength={200} />
                <Fields.Text>empty: nobody</Fields.Text>
              </Fields.Group>
            </div>
          )}
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
    </div>
  );
}

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
