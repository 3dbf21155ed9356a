import { Form as Fields } from "react-bootstrap";
import { Form, redirect, useNavigation } from "react-router";
import { z } from "zod";
import { finishSchema } from "#core/finish/finish";
import type { Person } from "#server/db/people";
import { changeMaterial, copyMaterial, deleteMaterial } from "#server/library/materials";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, idOf, look } from "../guard";
import { useBench } from "../view/useBench";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFinish";

export const loader = look(async () => null);

const NUMBERS = [
  "roughness",
  "metalness",
  "ior",
  "normalStrength",
  "heightAmplitudeMm",
  "heightMiddle",
  "occlusionStrength",
  "occlusionGamma",
] as const;

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    const intent = form.get("intent");
    if (intent === "copy") {
      const name = String(form.get("name") ?? "").trim();
      if (!name) throw badField("/name", "Give the copy a name.");
      const copy = await copyMaterial(id, name, person);
      return redirect(`/materials/${copy.id}`);
    }
    if (intent === "delete") {
      await deleteMaterial(id, true);
      return redirect("/library");
    }
    const fields: Record<string, unknown> = {};
    for (const field of NUMBERS) {
      const typed = String(form.get(field) ?? "").trim();
      if (typed !== "") fields[field] = Number(typed.replace(",", "."));
    }
    const color = form.get("color");
    if (color) fields.color = String(color);
    const finish = finishSchema.partial().safeParse(fields);
    if (!finish.success) {
      const [issue] = finish.error.issues;
      throw badField(`/${issue.path.join("/")}`, `${issue.path.join(" ")}: ${issue.message}`);
    }
    const name = z.string().trim().min(1).max(200).safeParse(form.get("name"));
    if (!name.success) throw badField("/name", "A name has 1 to 200 characters.");
    const direction = form.get("normalDirection");
    const saved = await changeMaterial(
      id,
      {
        name: name.data,
        finish: finish.data,
        ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
      },
      Number(form.get("seen")),
      person,
    );
    return { saved: saved.revision };
  },
);

export default function BenchFinish({ actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { material, mayMake, mayKeep } = useBench();
  const { finish, maps } = material;
  const busy = useNavigation().state === "submitting";
  const has = (...roles: string[]) => maps.some(({ role }) => roles.includes(role));
  const number = (name: (typeof NUMBERS)[number], label: string, hint: string, step = 0.01) => (
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
      <Form method="post" aria-label="Finish">
        <input type="hidden" name="seen" value={material.revision} />
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
          {actionData && "saved" in actionData && (
            <p className="saved" role="status">
              Saved as revision {actionData.saved}.
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
              Make a copy
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
