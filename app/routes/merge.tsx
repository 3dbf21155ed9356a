import { useState } from "react";
import { Link, redirect, useFetcher } from "react-router";
import { z } from "zod";
import { MERGE_FIELDS, type MergeField, type Side } from "#core/library/merge";
import { formatSize } from "#core/length/formatLength";
import { ROLE_NAMES } from "#core/roles/roles";
import type { Person } from "#server/auth/person";
import { jsonField } from "#server/http/cleanForm";
import { merge, mergeInput, planMerge, undoMerge } from "#server/merge/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { useView } from "../view/viewContext";
import type { Route } from "./+types/merge";

export const meta: Route.MetaFunction = () => [{ title: "Merge – Kalonomy" }];

const asked = z.object({ first: z.uuid(), second: z.uuid() });

export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const read = asked.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  if (!read.success) throw redirect("/alike");
  const { sides, choice, sizeOnOther } = await planMerge(read.data.first, read.data.second);
  return {
    sides: sides.map(({ material, projects, collections, factsOf, setValues }) => ({
      ...{ id: material.id, name: material.name, code: material.code, revision: material.revision },
      ...{ maps: material.maps, repeat: material.repeat, sizeState: material.sizeState },
      ...{ supplier: material.source.supplier, product: material.source.product },
      ...{ licence: material.licence?.name ?? null, family: factsOf.family, tags: factsOf.tags },
      ...{ projects, collections, setValues },
    })),
    choice,
    sizeOnOther,
  };
});

const ACTS = intents(intent("merge", { merge: z.string().max(5000) }), intent("undo", { merge: z.uuid() }));

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const fields = fieldsOf(form, ACTS);
  if (fields.intent === "undo") {
    await undoMerge(fields.merge, person);
    return {};
  }
  const read = mergeInput.safeParse(jsonField(fields.merge));
  if (!read.success)
    throw badField("/merge", "What was sent cannot be read. Load the page again and repeat it.");
  await merge(read.data, person);
  return redirect("/alike");
});

type Loaded = Route.ComponentProps["loaderData"];
type Shown = Loaded["sides"][number];

const FIELD_WORDS: Record<MergeField, string> = {
  name: "Name",
  maps: "Maps",
  size: "Size",
  finish: "Finish",
  facts: "Facts",
};

const PICTURE = { width: 400, height: 260 };

/** Two materials that are one: which stays, and what is taken of each. */
export default function Merge({
  loaderData: { sides, choice: proposed, sizeOnOther },
}: Route.ComponentProps) {
  const { unit } = useView();
  const fetcher = useFetcher<typeof action>();
  const [choice, setChoice] = useState(proposed);
  const [kept, lost] = [sides[choice.kept], sides[1 - choice.kept]];
  const busy = fetcher.state !== "idle";
  const sizeWords = (at: Side) => {
    const { repeat, sizeState } = sides[at];
    if (!repeat) return "unknown";
    const there = choice.maps === at ? repeat : sizeOnOther[at]!;
    const moved = choice.maps !== at && formatSize(there, unit) !== formatSize(repeat, unit);
    return `${formatSize(there, unit)}${sizeState === "assumed" ? ", assumed" : ""}${
      moved ? ` (${formatSize(repeat, unit)} on its own pictures)` : ""
    }`;
  };
  const cell = (field: MergeField, at: Side) => {
    const side = sides[at];
    switch (field) {
      case "name":
        return side.name;
      case "maps":
        return <Maps maps={side.maps} />;
      case "size":
        return <span className="number">{sizeWords(at)}</span>;
      case "finish":
        return side.setValues === 0
          ? "as it came"
          : `${side.setValues} ${side.setValues === 1 ? "value" : "values"} set`;
      case "facts":
        return factWords(side);
    }
  };
  const submit = () =>
    void fetcher.submit(
      {
        intent: "merge",
        merge: JSON.stringify({
          ...{ first: sides[0].id, second: sides[1].id, choice },
          seen: sides.map(({ revision }) => revision),
        }),
      },
      { method: "post" },
    );
  return (
    <div className="page">
      <p className="path">
        <Link to="/alike">Alike</Link>
      </p>
      <h1>Merge two materials into one</h1>
      <table className="merge-table">
        <thead>
          <tr>
            <td />
            {sides.map(({ id, name, code, revision }, at) => (
              <th key={id} scope="col">
                <img
                  {...PICTURE}
                  alt={`${name}, tiled`}
                  src={`/api/v1/materials/${id}/picture?width=${PICTURE.width}&height=${PICTURE.height}&revision=${revision}`}
                />
                <span>
                  <Link to={`/materials/${id}`}>{name}</Link> <span className="number dim">{code}</span>
                </span>
                <label>
                  <input
                    type="radio"
                    name="kept"
                    checked={choice.kept === at}
                    onChange={() => setChoice({ ...choice, kept: at as Side })}
                  />{" "}
                  This one stays
                </label>
                <span className="dim">{usesWords(sides[at])}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {MERGE_FIELDS.map((field) => (
            <tr key={field}>
              <th scope="row">{FIELD_WORDS[field]}</th>
              {([0, 1] as const).map((at) => (
                <td key={at} className={choice[field] === at ? "taken" : undefined}>
                  <label>
                    <input
                      type="radio"
                      name={field}
                      checked={choice[field] === at}
                      aria-label={`${FIELD_WORDS[field]} of ${sides[at].name} ${sides[at].code}`}
                      onChange={() => setChoice({ ...choice, [field]: at })}
                    />{" "}
                    {cell(field, at)}
                  </label>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p>
        {kept.code} gets a new revision; {lost.code} leaves the library and stays behind it as its history.{" "}
        {lost.collections.length > 0 && `${listed(lost.collections)} will have the one that stays. `}
        {lost.projects.length > 0 &&
          `${listed(lost.projects)} ${lost.projects.length === 1 ? "keeps" : "keep"} what was taken until somebody moves on. `}
        It can be undone.
      </p>
      <div className="acts">
        <Button onClick={submit} disabled={busy}>
          {busy ? "Merging…" : "Merge"}
        </Button>
        <Link to="/alike">Cancel</Link>
      </div>
      <Refusal result={fetcher.data} />
    </div>
  );
}

function Maps({ maps }: { maps: Shown["maps"] }) {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  return (
    <span className="merge-maps">
      {maps.map(({ role, sha256, channel }) => (
        <img
          key={role}
          className="thumb"
          src={previewUrl(sha256, 64, channel)}
          alt={ROLE_NAMES[role]}
          title={ROLE_NAMES[role]}
          loading="lazy"
        />
      ))}
      <span className="number">{base ? `${base.width} × ${base.height}` : "none"}</span>
    </span>
  );
}

function factWords({ supplier, product, licence, family, tags }: Shown): string {
  const known = [supplier, product, licence, family, tags.length > 0 && tags.join(", ")].filter(Boolean);
  return known.length > 0 ? known.join("; ") : "none";
}

const usesWords = ({ projects, collections }: Shown) =>
  projects.length + collections.length === 0
    ? "nobody uses it"
    : `in ${[...projects, ...collections].join(", ")}`;

const listed = (names: string[]) =>
  names.length > 4 ? `${names.slice(0, 3).join(", ")} and ${names.length - 3} more` : names.join(", ");
