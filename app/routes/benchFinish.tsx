import { z } from "zod";
import { useEffect, useState } from "react";
import { redirect } from "react-router";
import { gradeSchema } from "#core/finish/grades";
import { hexColorSchema } from "#core/finish/hexColor";
import { lightSchema } from "#core/picture/condition";
import type { Person } from "#server/auth/person";
import { changeCondition, createCondition, removeCondition } from "#server/condition/commands";
import { listConditions, listEnvironments } from "#server/condition/sql";
import { createGrade, removeGrade } from "#server/grade/commands";
import { listGrades } from "#server/grade/sql";
import { badField } from "#server/problem";
import { listProfiles } from "#server/profile/sql";
import { database } from "#server/db/database";
import { revisionNumber } from "#server/http/api/shapes";
import { findMaterial, listRevisions } from "#server/material/queries";
import { listWear } from "#server/material/wear";
import { listReferences } from "#server/reference/sql";
import {
  changeMaterial,
  copyMaterial,
  createPlain,
  correctFor,
  deleteMaterial,
} from "#server/material/commands";
import { Refusal } from "../components/Refusal";
import { FinishBench } from "../finish/FinishBench";
import { Meanwhile } from "../finish/Meanwhile";
import { readFinish, readValues } from "../finish/readFinish";
import { act, idOf, look } from "../guard";
import { fieldsOf, nameField } from "../fieldsOf";
import { useBench } from "../view/useBench";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFinish";

export { StepError as ErrorBoundary } from "../components/StepError";

/** The material that is beside this one: another one, or itself in an earlier revision. */
async function besideOf(id: string, url: string) {
  const asked = new URL(url).searchParams;
  const beside = z.uuid().safeParse(asked.get("beside") ?? id).data;
  const revision = z.coerce.number().pipe(revisionNumber).safeParse(asked.get("revision")).data;
  if (beside === undefined || (beside === id && revision === undefined)) return undefined;
  const found = await findMaterial(database(), beside, revision);
  if (!found) return undefined;
  const { name, layout, repeat, maps, finish, wear } = found;
  return {
    name: beside === id ? `revision ${revision}` : name,
    material: { layout, repeat, maps },
    finish,
    wear,
  };
}

export const loader = look(async ({ params, request }: Route.LoaderArgs) => ({
  beside: await besideOf(idOf(params), request.url),
  revisions: (await listRevisions(database(), idOf(params))).map(({ number }) => number),
  received: (await findMaterial(database(), idOf(params), 1))?.finish,
  profiles: (await listProfiles(database())).map(({ id, name, layers, maxPixels }) => ({
    id,
    name,
    layers,
    maxPixels,
  })),
  references: await listReferences(database(), idOf(params)),
  conditions: await listConditions(database()),
  environments: await listEnvironments(database()),
  grades: await listGrades(database()),
  offered: (await listWear(database())).filter(({ material }) => material !== idOf(params)),
}));

const CORRECTED = z.object({ profile: z.string(), seen: z.number() });
const PLAIN = z.object({ name: nameField("the material"), color: hexColorSchema });
const CONDITION = z.object({ name: nameField("the condition"), light: z.string() });
const GRADE = z.object({ grade: z.string() });
const ITS_ID = { id: z.uuid() };

/** Values that the screen sends as one text. @throws {Problem} where it is none of them */
function readJson<S extends z.ZodType>(text: string, schema: S, field: string): z.output<S> {
  try {
    return schema.parse(JSON.parse(text));
  } catch {
    throw badField(`/${field}`, "What was sent cannot be read. Load the page again and repeat it.");
  }
}
const readLight = (text: string) => readJson(text, lightSchema, "light");
const readGrade = (text: string) => readJson(text, gradeSchema, "grade");

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
    if (intent === "make-plain") {
      const made = await createPlain(fieldsOf(form, PLAIN), person);
      return redirect(`/materials/${made.id}/finish`);
    }
    if (intent === "create-condition") {
      const { light, name } = fieldsOf(form, CONDITION);
      return { kept: (await createCondition({ name, light: readLight(light) }, person)).id };
    }
    if (intent === "change-condition") {
      const { id: condition, light, name } = fieldsOf(form, CONDITION.extend(ITS_ID));
      return { kept: (await changeCondition(condition, { name, light: readLight(light) })).id };
    }
    if (intent === "delete-condition") {
      const { id: condition } = fieldsOf(form, z.object(ITS_ID));
      await removeCondition(condition);
      return { gone: condition };
    }
    if (intent === "create-grade") {
      const { grade } = fieldsOf(form, GRADE);
      return { kept: (await createGrade(readGrade(grade), person)).id };
    }
    if (intent === "delete-grade") {
      const { id: grade } = fieldsOf(form, z.object(ITS_ID));
      await removeGrade(grade);
      return { gone: grade };
    }
    if (intent === "delete") {
      await deleteMaterial(id, true);
      return redirect("/library");
    }
    if (intent === "correct") {
      const { profile, seen } = fieldsOf(form, CORRECTED);
      // What the form has no clause for stays as it was corrected.
      const before = (await findMaterial(database(), id))?.corrections[profile];
      const change = { ...before, ...readValues(form) };
      return { saved: (await correctFor(id, profile, change, seen, person)).revision };
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

export default function BenchFinish({ actionData: answer, loaderData }: Route.ComponentProps) {
  const { received, ...loaded } = loaderData;
  const actionData = useKept(answer);
  const { material: newest, mayMake, mayKeep } = useBench();
  // Once somebody types, what others save meanwhile must not take it away.
  const [held, setHeld] = useState<typeof newest>();
  const saved = actionData && "saved" in actionData ? actionData.saved : undefined;
  useEffect(() => setHeld(undefined), [saved, newest.id]);
  const meanwhile = actionData && "meanwhile" in actionData ? actionData.meanwhile : undefined;
  const [dropped, setDropped] = useState<typeof meanwhile>();
  const material = held ?? newest;
  /** The renderer that is corrected for; none means all of them. */
  const [profile, setProfile] = useState("");
  const [lastOther, setLastOther] = useState("");
  const isClash = meanwhile !== undefined && meanwhile !== dropped;
  return (
    <div className="finish">
      {isClash ? (
        <div className="page">
          <Meanwhile
            key={meanwhile.revision}
            {...meanwhile}
            onTheirs={() => {
              setHeld(undefined);
              setDropped(meanwhile);
            }}
          />
        </div>
      ) : (
        <FinishBench
          key={`${material.revision} ${profile}`}
          profile={profile}
          onProfile={setProfile}
          material={material}
          received={received ?? material.finish}
          {...loaded}
          mayMake={mayMake}
          mayKeep={mayKeep}
          onTouch={() => setHeld((before) => before ?? newest)}
          lastOther={lastOther}
          onLastOther={setLastOther}
        >
          <Refusal result={actionData} />
          {saved !== undefined && (
            <p className="saved" role="status">
              Saved as revision {saved}.
            </p>
          )}
        </FinishBench>
      )}
    </div>
  );
}
