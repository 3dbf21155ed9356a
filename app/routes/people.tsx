import { Form as Fields } from "react-bootstrap";
import { Form, Link, useSubmit } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import { MIN_PASSWORD } from "#server/auth/passwords";
import { database } from "#server/db/database";
import { LEVELS, type Level, type Person } from "#server/auth/person";
import { listPeople } from "#server/people/queries";
import { addPerson, changeLevel, giveNewPassword, newPersonSchema, retire } from "#server/people/commands";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { useKept } from "../view/useKept";
import { fieldsOf, intent, intents } from "../fieldsOf";
import type { Route } from "./+types/people";

export const meta: Route.MetaFunction = () => [{ title: "People – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  me: person,
  people: await listPeople(database()),
  mayKeep: mayDo(person, "keep"),
  leastPassword: MIN_PASSWORD,
}));

const ACTS = intents(
  intent("add", newPersonSchema.shape),
  intent("level", { id: z.uuid(), level: z.enum(LEVELS) }),
  intent("password", { id: z.uuid(), password: z.string().default("") }),
  intent("retire", { id: z.uuid() }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const asked = fieldsOf(form, ACTS);
  switch (asked.intent) {
    case "add": {
      const { intent: _, ...added } = asked;
      return { done: `${(await addPerson(added)).name} can sign in.` };
    }
    case "level":
      await changeLevel(asked.id, asked.level, person);
      return { done: "The level is changed." };
    case "password":
      await giveNewPassword(asked.id, asked.password);
      return {
        done: "The new password is set; they are signed out everywhere, and their tokens are revoked.",
      };
    case "retire":
      await retire(asked.id, person);
      return { done: "Retired. What they made stays." };
  }
});

const LEVEL_WORDS = {
  look: "looks",
  make: "makes",
  keep: "keeps: may also delete, and manage people",
} as const satisfies Record<Level, string>;

export default function People({
  loaderData: { me, people, mayKeep, leastPassword },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  return (
    <div className="page">
      <h1>People</h1>
      <p>
        Your own password, sessions and tokens are at <Link to="/me">{me.name}</Link>.
        {mayKeep && (
          <>
            {" "}
            The queue, the disk and what failed are at <Link to="/upkeep">Upkeep</Link>.
          </>
        )}
      </p>
      <Refusal result={actionData} />
      {actionData && "done" in actionData && (
        <p className="saved" role="status">
          {actionData.done}
        </p>
      )}
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">Name</th>
            <th scope="col">E-mail</th>
            <th scope="col">Level</th>
            {mayKeep && (
              <th scope="col">
                <span className="visually-hidden">Acts</span>
              </th>
            )}
          </tr>
        </thead>
        <tbody>
          {people.map((person) => (
            <tr key={person.id}>
              <td>{person.name}</td>
              <td>{person.email}</td>
              <td>
                {mayKeep && person.id !== me.id ? <LevelChoice person={person} /> : LEVEL_WORDS[person.level]}
              </td>
              {mayKeep && (
                <td>{person.id !== me.id && <Acts person={person} leastPassword={leastPassword} />}</td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {mayKeep && (
        <Form method="post" className="row-form" aria-label="Add a person" key={people.length}>
          <input type="hidden" name="intent" value="add" />
          <Fields.Control name="name" placeholder="Name" aria-label="Name" required />
          <Fields.Control name="email" type="email" placeholder="E-mail" aria-label="E-mail" required />
          <Fields.Control
            name="password"
            type="password"
            placeholder="First password"
            aria-label="First password"
            autoComplete="new-password"
            required
            minLength={leastPassword}
          />
          <Fields.Select name="level" aria-label="Level" defaultValue="make">
            <LevelOptions />
          </Fields.Select>
          <Button type="submit">Add</Button>
        </Form>
      )}
    </div>
  );
}

const LevelOptions = () =>
  Object.entries(LEVEL_WORDS).map(([level, words]) => (
    <option key={level} value={level}>
      {words}
    </option>
  ));

function LevelChoice({ person }: { person: Person }) {
  const submit = useSubmit();
  return (
    <Form method="post" key={person.level}>
      <input type="hidden" name="intent" value="level" />
      <input type="hidden" name="id" value={person.id} />
      <Fields.Select
        name="level"
        aria-label={`Level of ${person.name}`}
        defaultValue={person.level}
        onChange={({ currentTarget }) => void submit(currentTarget.form)}
      >
        <LevelOptions />
      </Fields.Select>
    </Form>
  );
}

function Acts({ person, leastPassword }: { person: Person; leastPassword: number }) {
  return (
    <div className="row-acts">
      <details>
        <summary>New password</summary>
        <Form method="post" className="row-form" aria-label={`New password for ${person.name}`}>
          <input type="hidden" name="intent" value="password" />
          <input type="hidden" name="id" value={person.id} />
          <Fields.Control
            size="sm"
            type="password"
            name="password"
            aria-label={`New password of ${person.name}`}
            autoComplete="new-password"
            minLength={leastPassword}
            required
          />
          <Button type="submit" size="sm" variant="outline-secondary">
            Set
          </Button>
        </Form>
      </details>
      <Form
        method="post"
        onSubmit={(event) => {
          if (!confirm(`Retire ${person.name}? Sessions and tokens end at once; what they made stays.`))
            event.preventDefault();
        }}
      >
        <input type="hidden" name="intent" value="retire" />
        <input type="hidden" name="id" value={person.id} />
        <Button type="submit" size="sm" variant="outline-danger" aria-label={`Retire ${person.name}`}>
          Retire
        </Button>
      </Form>
    </div>
  );
}
