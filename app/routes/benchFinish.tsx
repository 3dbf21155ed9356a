import { z } from "zod";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, redirect, useNavigation } from "react-router";
import { changedFinish, type Finish } from "#core/finish/finish";
import type { Person } from "#server/auth/person";
import { listProfiles } from "#server/profile/sql";
import { database } from "#server/db/database";
import { findMaterial } from "#server/material/queries";
import { changeMaterial, copyMaterial, correctFor, deleteMaterial } from "#server/material/commands";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { UndoRedo } from "../components/UndoRedo";
import { FinishPicture } from "../finish/FinishPicture";
import { Meanwhile } from "../finish/Meanwhile";
import { readFinish, readValues } from "../finish/readFinish";
import { Specification } from "../finish/Specification";
import { gradeTexts, textsOf, typedFinish, type FinishTexts } from "../finish/typedFinish";
import { act, idOf, look } from "../guard";
import { fieldsOf, nameField } from "../fieldsOf";
import { useTitleBlock } from "../view/titleBlock";
import { useBench } from "../view/useBench";
import { useHistory } from "../view/useHistory";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/benchFinish";

export { StepError as ErrorBoundary } from "../components/StepError";

export const loader = look(async ({ params }: Route.LoaderArgs) => ({
  received: (await findMaterial(database(), idOf(params), 1))?.finish,
  profiles: (await listProfiles(database())).map(({ id, name }) => ({ id, name })),
}));

const CORRECTED = z.object({ profile: z.string(), seen: z.number() });
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
    if (intent === "correct") {
      const { profile, seen } = fieldsOf(form, CORRECTED);
      return { saved: (await correctFor(id, profile, readValues(form), seen, person)).revision };
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

export default function BenchFinish({
  actionData: answer,
  loaderData: { received, profiles },
}: Route.ComponentProps) {
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
        <Bench
          key={`${material.revision} ${profile}`}
          profile={profile}
          onProfile={setProfile}
          material={material}
          received={received ?? material.finish}
          profiles={profiles}
          mayMake={mayMake}
          mayKeep={mayKeep}
          onTouch={() => setHeld((before) => before ?? newest)}
        >
          <Refusal result={actionData} />
          {saved !== undefined && (
            <p className="saved" role="status">
              Saved as revision {saved}.
            </p>
          )}
        </Bench>
      )}
    </div>
  );
}

interface BenchProps {
  material: ReturnType<typeof useBench>["material"];
  /** The finish that it came with. */
  received: Finish;
  profiles: { id: string; name: string }[];
  /** Id of the one that is corrected for; "" for all of them. */
  profile: string;
  onProfile(id: string): void;
  mayMake: boolean;
  mayKeep: boolean;
  onTouch(): void;
  /** What came of saving. */
  children: ReactNode;
}

/** The sample, and its specification beside it. */
function Bench({
  material,
  received: came,
  profiles,
  profile,
  onProfile,
  mayMake,
  mayKeep,
  onTouch,
  children,
}: BenchProps) {
  const { maps, corrections } = material;
  // A correction begins where the finish for all ends.
  const correction = corrections[profile];
  const finish = correction ? changedFinish(material.finish, correction) : material.finish;
  const received = profile === "" ? came : material.finish;
  const renderer = profiles.find(({ id }) => id === profile)?.name;
  const history = useHistory(() => textsOf(finish));
  const texts = history.now;
  const busy = useNavigation().state === "submitting";
  const begun = useMemo(() => JSON.stringify(textsOf(finish)), [finish]);
  const isTouched = JSON.stringify(texts) !== begun;
  const [condition, setCondition] = useState("");
  useTitleBlock(`${material.code} ${material.name}`, renderer ? `${condition}, for ${renderer}` : condition);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the same for as long as this form stands
  const now = useMemo(() => typedFinish(finish, texts), [texts]);
  const others = useMemo(
    () => ({
      [`as saved, revision ${material.revision}`]: finish,
      ...(renderer && { "for every renderer": material.finish }),
      "as received": came,
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the finish is the revision's, for this renderer
    [material.revision, renderer, came],
  );
  const normal = maps.find(({ role }) => role === "geometry_normal");
  const type = (changed: Partial<FinishTexts>, touched?: string) => {
    onTouch();
    history.set((before) => ({ ...before, ...changed }), touched);
  };
  return (
    <>
      <FinishPicture material={material} finish={now} others={others} onCondition={setCondition} />
      <div className="specification">
        <Form method="post" aria-label="Finish">
          <header>
            <h2>Finish</h2>
            <UndoRedo {...history} />
          </header>
          <Fields.Group className="mb-2" controlId="for-renderer">
            <Fields.Label>For</Fields.Label>
            <Fields.Select
              size="sm"
              value={profile}
              disabled={isTouched}
              onChange={(event) => onProfile(event.target.value)}
            >
              <option value="">every renderer</option>
              {profiles.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                  {id in corrections ? ", corrected" : ""}
                </option>
              ))}
            </Fields.Select>
            {isTouched && <Fields.Text>Save first, or take it back.</Fields.Text>}
          </Fields.Group>
          <input type="hidden" name="seen" value={material.revision} />
          <input type="hidden" name="seenName" value={material.name} />
          <fieldset disabled={!mayMake}>
            {renderer ? (
              <>
                <input type="hidden" name="intent" value="correct" />
                <input type="hidden" name="profile" value={profile} />
                <p className="aside">Only what differs is kept, and only this renderer gets it.</p>
              </>
            ) : (
              <Fields.Group className="mb-2" controlId="name">
                <Fields.Label>Name</Fields.Label>
                <Fields.Control
                  size="sm"
                  name="name"
                  defaultValue={material.name}
                  maxLength={200}
                  required
                  onChange={onTouch}
                />
              </Fields.Group>
            )}
            <Specification
              material={material}
              texts={texts}
              received={textsOf(received)}
              onType={(field, text, touched) =>
                type(field === "grade" ? gradeTexts(text, received, maps) : { [field]: text }, touched)
              }
            />
            {normal && !renderer && (
              <Fields.Group controlId="normalDirection" className="mt-2">
                <Fields.Label>Green of the normal map</Fields.Label>
                <Fields.Select
                  size="sm"
                  name="normalDirection"
                  defaultValue={normal.normalDirection ?? ""}
                  onChange={onTouch}
                >
                  {!normal.normalDirection && <option value="">up, +Y (assumed)</option>}
                  <option value="+Y">up, +Y</option>
                  <option value="-Y">down, −Y</option>
                </Fields.Select>
                <Fields.Text>if joints stand out, turn it</Fields.Text>
              </Fields.Group>
            )}
            <div className="save">
              {children}
              <Button type="submit" disabled={busy}>
                Save
              </Button>{" "}
              <Button variant="outline-secondary" onClick={() => type(textsOf(received))}>
                {renderer ? "As for every renderer" : "All as received"}
              </Button>
            </div>
          </fieldset>
        </Form>
        {mayMake && <Copy name={material.name} />}
        {mayKeep && <Remove name={material.name} />}
      </div>
    </>
  );
}

const Copy = ({ name }: { name: string }) => (
  <section className="finish-more">
    <h2>A new material from this one</h2>
    <Form method="post" className="row-form">
      <input type="hidden" name="intent" value="copy" />
      <Fields.Control name="name" aria-label="Name of the copy" defaultValue={`${name}, variant`} required />
      <Button type="submit" variant="outline-secondary">
        Create copy
      </Button>
    </Form>
  </section>
);

const Remove = ({ name }: { name: string }) => (
  <section className="finish-more">
    <h2>Take it out of the library</h2>
    <Form
      method="post"
      onSubmit={(event) => {
        if (
          !confirm(
            `Take “${name}” out of the library? Projects and collections lose it; deliveries keep what they have.`,
          )
        )
          event.preventDefault();
      }}
    >
      <input type="hidden" name="intent" value="delete" />
      <Button type="submit" variant="outline-danger">
        Remove {name}
      </Button>
    </Form>
  </section>
);
