import { useEffect, useId, useMemo, useState } from "react";
import { Alert, Form as Fields } from "react-bootstrap";
import { Form, Link, redirect, useNavigation, useSearchParams } from "react-router";
import { z } from "zod";
import { profileSchema, type Profile } from "#core/convert/profile";
import { profileChanges } from "#core/convert/profileChanges";
import type { MaterialState } from "#core/finish/material";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { findMaterialStates, listSampleMaterials, type MaterialRow } from "#server/material/queries";
import { changeProfile, readProfile } from "#server/profile/commands";
import { findProfile } from "#server/profile/sql";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, look } from "../guard";
import { ProfileFields } from "../profile/ProfileFields";
import { ProfileSampleView } from "../profile/ProfileSampleView";
import { useTitleBlock } from "../view/titleBlock";
import { Unsaved } from "../view/Unsaved";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/profile";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.row.profile.name ?? "Profile"} – Kalonomy` },
];

const profileId = (params: { id?: string }) => z.string().max(60).catch("").parse(params.id);

export const loader = look(async ({ params, request, person }: Route.LoaderArgs & { person: Person }) => {
  const row = found(await findProfile(database(), profileId(params)), "profile");
  const samples = await listSampleMaterials(database());
  const asked = z.uuid().safeParse(new URL(request.url).searchParams.get("sample")).data;
  const id = asked ?? samples[0]?.id;
  const [material] = id ? await findMaterialStates(database(), [{ id, revision: null }]) : [];
  return { row, samples, material: material && stateOf(material), mayMake: mayDo(person, "make") };
});

/** What the sample needs of a material. */
function stateOf(row: MaterialRow): MaterialState {
  const { id, code, name, fileName, revision, layout, repeat, sizeState, finish, corrections, maps, wear } =
    row;
  return { id, code, name, fileName, revision, layout, repeat, sizeState, finish, corrections, maps, wear };
}

const ACTS = intents(intent("save", { revision: z.coerce.number().int(), profile: z.string().max(100_000) }));

export const action = act(
  async ({ params, request, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const { revision, profile } = fieldsOf(form, ACTS);
    const id = profileId(params);
    const saved = await changeProfile(readProfile({ ...readJson(profile), id }), revision, person);
    const search = new URL(request.url).searchParams;
    search.set("saved", String(saved.revision));
    return redirect(`/profiles/${id}?${search}`);
  },
);

function readJson(text: string): object {
  try {
    return z.record(z.string(), z.unknown()).parse(JSON.parse(text));
  } catch {
    throw badField("/profile", "What was sent is no profile. Load the page again and repeat it.");
  }
}

const isSame = (a: Profile, b: Profile) =>
  profileChanges(a, b).length === 0 && a.description === b.description;

/** What one renderer wants, as questions, and beside it what that makes of a sample material. */
export default function ProfilePage({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { row, samples, material, mayMake } = loaderData;
  const [search, setSearch] = useSearchParams();
  const newest = { of: row.revision, profile: row.profile, isTyped: false };
  const [begun, setDraft] = useState(newest);
  const isOwnSave = search.get("saved") === String(row.revision) && begun.of === row.revision - 1;
  // A draft goes on past what is saved, unless it says the same: what somebody has typed is not lost to another's saving.
  const isOver = isOwnSave || !begun.isTyped || isSame(begun.profile, row.profile);
  const draft = isOver ? newest : begun;
  // eslint-disable-next-line react-hooks/exhaustive-deps -- once it is saved it is no draft any more
  useEffect(() => setDraft(newest), [isOwnSave]);
  const { profile } = draft;
  const isBehind = draft.of !== row.revision;
  const isFixed = row.shipped || !mayMake;
  const isChanged = !isSame(profile, row.profile);
  const read = useMemo(() => profileSchema.safeParse(profile), [profile]);
  const busy = useNavigation().state !== "idle";
  const sampleId = useId();
  useTitleBlock(row.profile.name, row.shipped ? "ships with Kalonomy" : `revision ${row.revision}`);
  return (
    <div className="page profile-page">
      <Unsaved when={isChanged && !isFixed && !busy} what="the profile" />
      <p className="path">
        <Link to="/profiles">Profiles</Link>
      </p>
      <div className="sentence-row">
        <h1>{row.profile.name}</h1>
        <div className="acts">
          <a
            className="btn btn-outline-secondary btn-sm"
            href={`/api/v1/profiles/${row.profile.id}`}
            download={`${row.profile.id}.json`}
          >
            Export
          </a>
          {!isFixed && (
            <Form method="post">
              <input type="hidden" name="intent" value="save" />
              <input type="hidden" name="revision" value={draft.of} />
              <input type="hidden" name="profile" value={JSON.stringify(profile)} />
              <Button type="submit" size="sm" disabled={busy || !isChanged || isBehind || !read.success}>
                {isChanged ? "Save" : "Saved"}
              </Button>
            </Form>
          )}
        </div>
      </div>
      <p>{row.profile.description}</p>
      {row.shipped && mayMake && (
        <Form method="post" action="/profiles" className="copy-profile">
          <input type="hidden" name="intent" value="copy" />
          <input type="hidden" name="from" value={row.profile.id} />
          <span>It ships with Kalonomy, and is only read here. For a renderer of your own:</span>
          <Fields.Control
            size="sm"
            name="name"
            aria-label="Name of the copy"
            placeholder="what it is called"
          />
          <Button type="submit" size="sm" variant="outline-secondary">
            Copy
          </Button>
        </Form>
      )}
      {row.retired && <Alert variant="warning">It is retired, and is not offered.</Alert>}
      <Refusal result={actionData} />
      {isBehind && (
        <Alert variant="warning">
          Somebody has saved revision {row.revision} while you changed revision {draft.of}. Theirs says
          otherwise than yours:
          <ul>
            {profileChanges(profile, row.profile).map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
          <Button size="sm" onClick={() => setDraft(newest)}>
            Take theirs
          </Button>{" "}
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => setDraft({ of: row.revision, profile: draft.profile, isTyped: true })}
          >
            Keep mine, and save it on top
          </Button>
        </Alert>
      )}
      {!read.success && (
        <Alert variant="warning">
          {read.error.issues.slice(0, 3).map(({ path, message }) => (
            <div key={path.join()}>{message}</div>
          ))}
        </Alert>
      )}
      <div className="profile-columns">
        <ProfileFields
          profile={profile}
          isFixed={isFixed}
          onChange={(next) => setDraft({ of: draft.of, profile: next, isTyped: true })}
        />
        <section aria-labelledby="sample-heading">
          <h2 id="sample-heading">What it makes of a sample</h2>
          {samples.length > 0 && (
            <Fields.Group controlId={sampleId} className="mb-2">
              <Fields.Label visuallyHidden>Sample</Fields.Label>
              <Fields.Select
                size="sm"
                value={search.get("sample") ?? samples[0].id}
                onChange={(event) =>
                  setSearch({ sample: event.target.value }, { replace: true, preventScrollReset: true })
                }
              >
                {samples.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Fields.Select>
            </Fields.Group>
          )}
          {material && read.success && <ProfileSampleView profile={read.data} material={material} />}
          {!material && <p>Take in a material, and what the renderer gets of it is shown here.</p>}
        </section>
      </div>
    </div>
  );
}
