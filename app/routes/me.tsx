import { Alert, Form as Fields } from "react-bootstrap";
import { Form } from "react-router";
import { z } from "zod";
import { MIN_PASSWORD } from "#server/auth/passwords";
import { ownSession } from "#server/auth/sessions";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { listSessions, listTokens } from "#server/auth/queries";
import { changePassword, endOwnSessions, makeToken, revokeOwnToken } from "#server/people/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { moment } from "../view/moment";
import { useKept } from "../view/useKept";
import { fieldsOf, intent, intents } from "../fieldsOf";
import type { Route } from "./+types/me";

export const meta: Route.MetaFunction = () => [{ title: "You – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => {
  const db = database();
  return {
    me: person,
    tokens: await listTokens(db, person.id),
    sessions: await listSessions(db, person.id, await ownSession(request.headers.get("Cookie"))),
    leastPassword: MIN_PASSWORD,
  };
});

const password = () => z.string().default("");
const ACTS = intents(
  intent("token", { name: z.string().default("") }),
  intent("revoke", { id: z.uuid() }),
  intent("password", {
    now: password(),
    next: password(),
    again: password(),
    keepTokens: z.boolean().default(false),
  }),
  intent("end", { id: z.uuid() }),
  intent("end-others"),
);

export const action = act(
  async ({ request, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const asked = fieldsOf(form, ACTS);
    const own = () => ownSession(request.headers.get("Cookie"));
    switch (asked.intent) {
      case "token":
        return { token: (await makeToken(person, asked.name)).secret };
      case "revoke":
        await revokeOwnToken(person, asked.id);
        return null;
      case "password": {
        const { now, next, again, keepTokens } = asked;
        if (next !== again) throw badField("/again", "The new password is written in two ways.");
        await changePassword(person, { now, next, keepTokens }, await own());
        return { changed: true };
      }
      case "end":
        await endOwnSessions(person, { id: asked.id });
        return null;
      case "end-others":
        await endOwnSessions(person, { allBut: await own() });
        return null;
    }
  },
);

export default function Me({
  loaderData: { me, tokens, sessions, leastPassword },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  const token = actionData && "token" in actionData ? actionData.token : undefined;
  return (
    <div className="page">
      <h1>{me.name}</h1>
      <p className="dim">{me.email}</p>
      <Refusal result={actionData} />
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
                <td className="number dim">{used_at ? `used ${moment(used_at)}` : "never used"}</td>
                <td>
                  <RowAct intent="revoke" id={id} label={`Revoke ${name}`}>
                    Revoke
                  </RowAct>
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
          Create token
        </Button>
      </Form>
      <p>
        What a script can do is described in <a href="/api/v1/openapi.json">openapi.json</a>.
      </p>
      <h2>Where you are signed in</h2>
      <table className="ledger">
        <tbody>
          {sessions.map(({ id, agent, created_at, own }) => (
            <tr key={id}>
              <td>{agent || "unknown browser"}</td>
              <td className="number dim">since {moment(created_at)}</td>
              <td>
                {own ? (
                  "here"
                ) : (
                  <RowAct intent="end" id={id} label={`Sign out ${agent}`}>
                    Sign out
                  </RowAct>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {sessions.length > 1 && (
        <Form method="post">
          <input type="hidden" name="intent" value="end-others" />
          <Button type="submit" size="sm" variant="outline-secondary">
            Sign out everywhere else
          </Button>
        </Form>
      )}
      <h2>Password</h2>
      {actionData && "changed" in actionData && (
        <p className="saved" role="status">
          Changed. You are signed out everywhere else
          {tokens.length === 0
            ? ", and your tokens for scripts are revoked."
            : "; your tokens for scripts stay."}
        </p>
      )}
      <Form method="post" aria-label="Change the password">
        <input type="hidden" name="intent" value="password" />
        <input type="hidden" name="username" autoComplete="username" value={me.email} />
        <div className="row-form">
          {(
            [
              ["now", "Present password", "current-password", 1],
              ["next", "New password", "new-password", leastPassword],
              ["again", "New password, again", "new-password", leastPassword],
            ] as const
          ).map(([name, label, autoComplete, minLength]) => (
            <Fields.Control
              key={name}
              name={name}
              type="password"
              placeholder={label}
              aria-label={label}
              autoComplete={autoComplete}
              minLength={minLength}
              required
            />
          ))}
          <Button type="submit" variant="outline-secondary">
            Change
          </Button>
        </div>
        <Fields.Check name="keepTokens" id="keep-tokens" label="Keep my tokens for scripts" />
      </Form>
    </div>
  );
}

interface RowActProps {
  intent: string;
  id: string;
  label: string;
  children: string;
}

function RowAct({ intent, id, label, children }: RowActProps) {
  return (
    <Form method="post">
      <input type="hidden" name="intent" value={intent} />
      <input type="hidden" name="id" value={id} />
      <Button type="submit" size="sm" variant="outline-danger" aria-label={label}>
        {children}
      </Button>
    </Form>
  );
}
