import { Form as Fields } from "react-bootstrap";
import { Form, Link, redirect, useSubmit } from "react-router";
import { z } from "zod";
import { containerKind } from "#core/formats/containers";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { createCard } from "#server/card/commands";
import { listCards, type CardRow } from "#server/card/sql";
import { database } from "#server/db/database";
import { badField } from "#server/problem";
import {
  arrangeProfiles,
  copyProfile,
  createProfile,
  readProfile,
  retireProfile,
} from "#server/profile/commands";
import { listProfileRows, type ProfileRow } from "#server/profile/sql";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/profiles";

export const meta: Route.MetaFunction = () => [{ title: "Profiles – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  rows: await listProfileRows(database()),
  cards: await listCards(database()),
  mayMake: mayDo(person, "make"),
}));

/** More is no profile. */
const MOST_CHARACTERS = 200_000;

const profile = z.string().min(1).max(60);
const ACTS = intents(
  intent("copy", {
    from: profile,
    name: z
      .string("Say what the renderer is called.")
      .trim()
      .min(1)
      .max(80, "A name has up to 80 characters."),
  }),
  intent("card", {
    name: z
      .string("Say what the renderer is called.")
      .trim()
      .min(1)
      .max(80, "A name has up to 80 characters."),
  }),
  intent("import", {
    name: z.string().max(300).default(""),
    text: z.string("The file is empty.").max(MOST_CHARACTERS),
  }),
  intent("arrange", { ids: z.array(profile).min(1) }),
  intent("retire", { profile }),
  intent("offer", { profile }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const fields = fieldsOf(form, ACTS);
  switch (fields.intent) {
    case "copy":
      return redirect(`/profiles/${(await copyProfile(fields.from, fields.name, person)).profile.id}`);
    case "card":
      return redirect(`/cards/${(await createCard(fields.name, person)).id}`);
    case "import":
      return redirect(`/profiles/${(await importProfile(fields.name, fields.text, person)).profile.id}`);
    case "arrange":
      await arrangeProfiles(fields.ids);
      return null;
    default:
      await retireProfile(fields.profile, fields.intent === "retire");
      return null;
  }
});

/** What was exported says more than a profile does: how it stood where it came from. */
async function importProfile(name: string, text: string, person: Person): Promise<ProfileRow> {
  let given: unknown;
  try {
    given = JSON.parse(text);
  } catch (error) {
    throw badField("/file", `“${name}” is no JSON: ${(error as Error).message}.`);
  }
  const read = z.record(z.string(), z.unknown()).safeParse(given);
  if (!read.success) throw badField("/file", `“${name}” holds no profile.`);
  const { revision: _, shipped: __, retired: ___, ...rest } = read.data;
  return createProfile(readProfile(rest), person);
}

const CARD_SAYS: Record<CardRow["state"], string> = {
  making: "is being painted",
  waiting: "waits for a picture of it",
  reading: "is being read",
  read: "has been read",
  failed: "could not be read",
};

/** What each renderer wants. */
export default function Profiles({ loaderData, actionData: answer }: Route.ComponentProps) {
  const { rows, cards, mayMake } = loaderData;
  const actionData = useKept(answer);
  const submit = useSubmit();
  useFresh((event) => event.topic === "library" && cards.some(({ id }) => id === event.id));
  async function takeIn(input: HTMLInputElement) {
    const [file] = input.files ?? [];
    if (!file) return;
    // No more of it than is looked at: what is longer is refused in words.
    const text = await file.slice(0, MOST_CHARACTERS + 1).text();
    await submit({ intent: "import", name: file.name, text }, { method: "post" });
    input.value = "";
  }
  const offered = rows.filter(({ retired }) => !retired);
  const retired = rows.filter((row) => row.retired);
  return (
    <div className="page">
      <h1>Profiles</h1>
      <p>What each renderer wants. Convert offers them in this order.</p>
      <Refusal result={actionData} />
      <table className="ledger profiles">
        <thead>
          <tr>
            <th scope="col">Renderer</th>
            <th scope="col">Gets</th>
            <th scope="col">Sizes in</th>
            <th scope="col">Largest</th>
            <th scope="col">Revision</th>
            {mayMake && <th scope="col">Acts</th>}
          </tr>
        </thead>
        <tbody>
          {offered.map((row, at) => (
            <Row key={row.profile.id} row={row}>
              {mayMake && (
                <>
                  <Arrange offered={offered} at={at} by={-1} />
                  <Arrange offered={offered} at={at} by={1} />
                  <Act intent="retire" row={row} says="Retire" />
                </>
              )}
            </Row>
          ))}
        </tbody>
      </table>
      {mayMake && (
        <div className="new-profile">
          <Form method="post" className="inline-form">
            <input type="hidden" name="intent" value="copy" />
            <Fields.Group controlId="profile-name">
              <Fields.Label>A renderer of your own</Fields.Label>
              <Fields.Control size="sm" name="name" placeholder="what it is called" maxLength={80} required />
            </Fields.Group>
            <Fields.Group controlId="profile-from">
              <Fields.Label>begins as a copy of</Fields.Label>
              <Fields.Select size="sm" name="from">
                {offered.map(({ profile: { id, name } }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </Fields.Select>
            </Fields.Group>
            <Button type="submit" size="sm">
              Create
            </Button>
          </Form>
          <Form method="post" className="inline-form">
            <input type="hidden" name="intent" value="card" />
            <Fields.Group controlId="card-name">
              <Fields.Label>or nobody knows for sure what it does: then a test card tells</Fields.Label>
              <Fields.Control size="sm" name="name" placeholder="what it is called" maxLength={80} required />
            </Fields.Group>
            <Button type="submit" size="sm" variant="outline-secondary">
              Make a test card
            </Button>
          </Form>
          <div className="inline-form">
            <Fields.Group controlId="profile-file">
              <Fields.Label>or comes from a file that was exported</Fields.Label>
              <Fields.Control
                size="sm"
                type="file"
                accept=".json,application/json"
                onChange={(event) => void takeIn(event.target as HTMLInputElement)}
              />
            </Fields.Group>
          </div>
        </div>
      )}
      {cards.length > 0 && (
        <>
          <h2>Test cards</h2>
          <ul className="card-list">
            {cards.map(({ id, number, name, state }) => (
              <li key={id}>
                <Link to={`/cards/${id}`}>
                  {name}, card {number}
                </Link>{" "}
                <span className="dim">{CARD_SAYS[state]}</span>
              </li>
            ))}
          </ul>
        </>
      )}
      {retired.length > 0 && (
        <>
          <h2>Retired</h2>
          <table className="ledger profiles">
            <tbody>
              {retired.map((row) => (
                <Row key={row.profile.id} row={row}>
                  {mayMake && <Act intent="offer" row={row} says="Offer again" />}
                </Row>
              ))}
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}

function Row({
  row: { profile, revision, shipped },
  children,
}: {
  row: ProfileRow;
  children?: React.ReactNode;
}) {
  return (
    <tr>
      <th scope="row">
        <Link to={`/profiles/${profile.id}`}>{profile.name}</Link>
        <p className="dim">{profile.description}</p>
      </th>
      <td>
        {profile.delivers === "images" ? "images" : `one ${containerKind(profile.delivers).name} a material`}
      </td>
      <td>{profile.unit}</td>
      <td className="number">{profile.maxPixels ? `${profile.maxPixels} px` : "any"}</td>
      <td className="number">{shipped ? "ships" : revision}</td>
      {children && (
        <td>
          <div className="acts">{children}</div>
        </td>
      )}
    </tr>
  );
}

function Act({ intent, row, says }: { intent: string; row: ProfileRow; says: string }) {
  return (
    <Form method="post" preventScrollReset>
      <input type="hidden" name="intent" value={intent} />
      <input type="hidden" name="profile" value={row.profile.id} />
      <Button type="submit" size="sm" variant="outline-secondary" aria-label={`${says}: ${row.profile.name}`}>
        {says}
      </Button>
    </Form>
  );
}

/** Changes places with the one before or after it. */
function Arrange({ offered, at, by }: { offered: ProfileRow[]; at: number; by: 1 | -1 }) {
  const ids = offered.map(({ profile }) => profile.id);
  const to = at + by;
  const [here, there] = [ids[at], ids[to]];
  const arranged = ids.map((id, i) => (i === at ? there : i === to ? here : id));
  const says = by < 0 ? "Up" : "Down";
  return (
    <Form method="post" preventScrollReset>
      <input type="hidden" name="intent" value="arrange" />
      {there && arranged.map((id) => <input key={id} type="hidden" name="ids" value={id} />)}
      <Button
        type="submit"
        size="sm"
        variant="outline-secondary"
        disabled={!there}
        aria-label={`${says}: ${offered[at].profile.name}`}
      >
        {by < 0 ? "↑" : "↓"}
      </Button>
    </Form>
  );
}
