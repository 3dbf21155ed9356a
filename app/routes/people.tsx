import { Alert, Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { z } from "zod";
import { mayDo, requireLevel } from "#server/auth/levels";
import { hashPassword, MIN_PASSWORD } from "#server/auth/passwords";
import { makeSecret } from "#server/auth/tokens";
import { database, violates } from "#server/db/database";
import {
  insertPerson,
  insertToken,
  LEVELS,
  listPeople,
  listTokens,
  retirePerson,
  revokeToken,
  type Person,
} from "#server/db/people";
import { badField, conflict } from "#server/problem";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/people";

export const meta: Route.MetaFunction = () => [{ title: "People – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  me: person,
  people: await listPeople(database()),
  tokens: await listTokens(database(), person.id),
  mayKeep: mayDo(person, "keep"),
}));

const newPerson = z.object({
  name: z.string().trim().min(1, "Give the person a name.").max(200),
  email: z.email("That is no e-mail address."),
  password: z.string().min(MIN_PASSWORD, `A password has ${MIN_PASSWORD} characters or more.`),
  level: z.enum(LEVELS),
});

export const action = act(
  "look",
  async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const db = database();
    switch (form.get("intent")) {
      case "token": {
        const name = String(form.get("name") ?? "").trim();
        if (!name) throw badField("/name", "Say what the token is for.");
        const { secret, hash } = makeSecret("token");
        await insertToken(db, { person: person.id, name: name.slice(0, 200), hash });
        return { token: secret };
      }
      case "revoke":
        await revokeToken(db, person.id, z.uuid().parse(form.get("id")));
        return null;
      case "add": {
        requireLevel(person, "keep");
        const read = newPerson.safeParse(Object.fromEntries(form));
        if (!read.success)
          throw badField(`/${read.error.issues[0].path.join("/")}`, read.error.issues[0].message);
        const { password, ...fields } = read.data;
        try {
          await insertPerson(db, { ...fields, passwordHash: await hashPassword(password) });
        } catch (error) {
          if (violates(error, "people_email"))
            throw conflict(`Somebody with the address ${fields.email} is there already.`, "/email");
          throw error;
        }
        return null;
      }
      case "retire": {
        requireLevel(person, "keep");
        const id = z.uuid().parse(form.get("id"));
        if (id === person.id) throw conflict("You cannot retire yourself: ask another keeper.");
        await retirePerson(db, id);
        return null;
      }
      default:
        throw badField("/intent", "That is nothing that can be done here.");
    }
  },
);

const LEVEL_WORDS = {
  look: "looks",
  make: "makes",
  keep: "keeps: may also delete, and manage people",
} as const;

export default function People({
  loaderData: { me, people, tokens, mayKeep },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  const token = actionData && "token" in actionData ? actionData.token : undefined;
  return (
    <div className="page">
      <h1>People</h1>
      <Refusal result={actionData} />
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
              <td>{LEVEL_WORDS[person.level]}</td>
              {mayKeep && (
                <td>
                  {person.id !== me.id && (
                    <Form
                      method="post"
                      onSubmit={(event) => {
                        if (
                          !confirm(
                            `Retire ${person.name}? Sessions and tokens end at once; what they made stays.`,
                          )
                        )
                          event.preventDefault();
                      }}
                    >
                      <input type="hidden" name="intent" value="retire" />
                      <input type="hidden" name="id" value={person.id} />
                      <Button type="submit" size="sm" variant="outline-danger">
                        Retire
                      </Button>
                    </Form>
                  )}
                </td>
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
            minLength={MIN}
          />
          <Fields.Select name="level" aria-label="Level" defaultValue="make">
            {LEVEL_CHOICES.map((level) => (
              <option key={level} value={level}>
                {LEVEL_WORDS[level]}
              </option>
            ))}
          </Fields.Select>
          <Button type="submit">Add</Button>
        </Form>
      )}
      <h2>Your tokens for scripts</h2>
      {token && (
        <Alert variant="success">
          The new token, shown this once: <code className="token">{token}</code>
        </Alert>
      )}
      {tokens.length === 0 ? (
        <p className="dim">None yet.</p>
      ) : (
        <table className="ledger">
          <tbody>
            {tokens.map(({ id, name, used_at }) => (
              <tr key={id}>
                <td>{name}</td>
                <td className="number dim">
                  {used_at
                    ? `used ${new Date(used_at).toISOString().slice(0, 16).replace("T", " ")}`
                    : "never used"}
                </td>
                <td>
                  <Form method="post">
                    <input type="hidden" name="intent" value="revoke" />
                    <input type="hidden" name="id" value={id} />
                    <Button type="submit" size="sm" variant="outline-danger">
                      Revoke
                    </Button>
                  </Form>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Form method="post" className="row-form" aria-label="New token" key={`token${tokens.length}`}>
        <input type="hidden" name="intent" value="token" />
        <Fields.Control
          name="name"
          placeholder="What it is for"
          aria-label="What the token is for"
          required
          maxLength={200}
        />
        <Button type="submit" variant="outline-secondary">
          Make a token
        </Button>
      </Form>
      <p>
        What a script can do is described in <a href="/api/v1/openapi.json">openapi.json</a>.
      </p>
    </div>
  );
}

const MIN = 10;
const LEVEL_CHOICES = ["look", "make", "keep"] as const;
