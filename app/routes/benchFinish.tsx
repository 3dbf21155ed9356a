import { z } from "zod";
import { useEffect, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, redirect, useNavigation } from "react-router";
import type { FINISH_NUMBERS } from "#core/finish/finishValues";
import type { Person } from "#server/auth/person";
import { changeMaterial, copyMaterial, deleteMaterial } from "#server/material/commands";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { Meanwhile } from "../finish/Meanwhile";
import { readFinish } from "../finish/readFinish";
import { act, idOf, look } from "../guard";
import { fieldsOf, nameField } from "../fieldsOf";
import { useBench } from "../view/useBench";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFinish";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async () => null);

const COPY = z.object({ name: nameField("the copy") });

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    const intent = form.get("intent");
    if (intent === "copy") {
      const { name } = fieldsOf(form, COPY);
      const copy = await copyMaterial(id, name, person);
      return redirect(`/materials/${copy.id}`);
    }
    if (intent === "delete") {
      await deleteMaterial(id, true);
      return redirect("/library");
    }
    const change = readFinish(form);
    if (intent === "copy-mine") {
      const copy = await copyMaterial(id, change.name, person);
      await changeMaterial(copy.id, change, undefined, person);
      return redirect(`/materials/${copy.id}/finish`);
    }
    const seen = { revision: Number(form.get("seen")), name: String(form.get("seenName") ?? change.name) };
    const outcome = await changeMaterial(id, change, seen, person);
    return "saved" in outcome ? { saved: outcome.saved.revision } : { meanwhile: outcome.clash };
  },
);

export default function BenchFinish({ actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { material: newest, mayMake, mayKeep } = useBench();
  // Once somebody types, what others save meanwhile must not take it away.
  const [held, setHeld] = useState<typeof newest>();
  const saved = actionData && "saved" in actionData ? actionData.saved : undefined;
  useEffect(() => setHeld(undefined), [saved, newest.id]);
  const meanwhile = actionData && "meanwhile" in actionData ? actionData.meanwhile : undefined;
  const [dropped, setDropped] = useState<typeof meanwhile>();
  const material = held ?? newest;
  const { finish, maps } = material;
  const busy = useNavigation().state === "submitting";
  const has = (...roles: string[]) => maps.some(({ role }) => roles.includes(role));
  const number = (name: (typeof FINISH_NUMBERS)[number], label: string, hint: string, step = 0.01) => (
    <Fields.Group controlId={name} key={name}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control name={name} type="number" step={step} min={0} defaultValue={finish[name]} />
      <Fields.Text>{hint}</Fields.Text>
    </Fields.Group>
  );
  const normal = maps.find(({ role }) => role === "geometry_normal");
  return (
    <div className="page narrow" key={material.revision}>
      <h2>Finish</h2>
      <p>How the maps are used. They themselves are never changed; each saving makes a revision.</p>
      {meanwhile && meanwhile !== dropped && (
        <Meanwhile
          key={meanwhile.revision}
          {...meanwhile}
          onTheirs={() => {
            setHeld(undefined);
            setDropped(meanwhile);
          }}
        />
      )}
      <Form
        method="post"
        aria-label="Finish"
        hidden={meanwhile && meanwhile !== dropped}
        onChange={() => setHeld((before) => before ?? newest)}
      >
        <input type="hidden" name="seen" value={material.revision} />
        <input type="hidden" name="seenName" value={material.name} />
        <fieldset disabled={!mayMake}>
          <Fields.Group className="mb-3" controlId="name">
            <Fields.Label>Name</Fields.Label>
            <Fields.Control name="name" defaultValue={material.name} maxLength={200} required />
          </Fields.Group>
          <div className="fields">
            {material.layout === "plain" && (
              <Fields.Group controlId="color">
                <Fields.Label>Colour</Fields.Label>
                <Fields.Control type="color" name="color" defaultValue={finish.color} />
                <Fields.Text>{finish.color}</Fields.Text>
              </Fields.Group>
            )}
            {!has("specular_roughness", "gloss") &&
              number("roughness", "Roughness", "0 mirror, 1 chalk; there is no map for it")}
            {!has("base_metalness") && number("metalness", "Metalness", "0 or 1; there is no map for it")}
            {number("ior", "Index of refraction", "1.5 for nearly all that is no metal")}
            {normal && (
              <>
                {number("normalStrength", "Normal strength", "scales the slopes; 1 as delivered")}
                {has("specular_roughness", "gloss") &&
                  number(
                    "lostRelief",
                    "Lost relief as roughness",
                    "what a reduced normal map loses makes it rougher: 1 all of it, 0 nothing",
                  )}
                <Fields.Group controlId="normalDirection">
                  <Fields.Label>Green of the normal map</Fields.Label>
                  <Fields.Select name="normalDirection" defaultValue={normal.normalDirection ?? ""}>
                    {!normal.normalDirection && <option value="">up, +Y (assumed)</option>}
                    <option value="+Y">up, +Y</option>
                    <option value="-Y">down, −Y</option>
                  </Fields.Select>
                  <Fields.Text>if joints stand out on the wall, turn it</Fields.Text>
                </Fields.Group>
              </>
            )}
            {has("height", "bump") && (
              <>
                {number("heightAmplitudeMm", "Height amount (mm)", "lowest to highest; empty: assumed", 0.1)}
                {number("heightMiddle", "Height middle", "the value that lies in the surface")}
              </>
            )}
            {has("ambient_occlusion") && (
              <>
                {number("occlusionStrength", "Occlusion strength", "where it is multiplied in")}
                {number("occlusionGamma", "Occlusion curve", "below 1 softens it")}
              </>
            )}
          </div>
          <Refusal result={actionData} />
          {saved !== undefined && (
            <p className="saved" role="status">
              Saved as revision {saved}.
            </p>
          )}
          <Button type="submit" disabled={busy}>
            Save
          </Button>
        </fieldset>
      </Form>
      {mayMake && (
        <section className="mt-5">
          <h2>A new material from this one</h2>
          <Form method="post" className="row-form">
            <input type="hidden" name="intent" value="copy" />
            <Fields.Control
              name="name"
              aria-label="Name of the copy"
              defaultValue={`${material.name}, variant`}
              required
            />
            <Button type="submit" variant="outline-secondary">
              Create copy
            </Button>
          </Form>
        </section>
      )}
      {mayKeep && (
        <section className="mt-5">
          <h2>Take it out of the library</h2>
          <Form
            method="post"
            onSubmit={(event) => {
              if (
                !confirm(
                  `Take “${material.name}” out of the library? Projects and collections lose it; deliveries keep what they have.`,
                )
              )
                event.preventDefault();
            }}
          >
            <input type="hidden" name="intent" value="delete" />
            <Button type="submit" variant="outline-danger">
              Remove {material.name}
            </Button>
          </Form>
        </section>
      )}
    </div>
  );
}
