import { Alert, Form as Fields } from "react-bootstrap";
import { data, Form, redirect, useNavigation } from "react-router";
import { plainLine } from "#core/text/plainText";
import { knownDevice, rememberDevice } from "#server/auth/devices";
import { checkSignIn } from "#server/auth/signIn";
import { addressContext, personContext } from "#server/auth/personContext";
import { beginSession } from "#server/auth/sessions";
import { Problem } from "#server/problem";
import { Button } from "../components/Button";
import { readForm } from "../guard";
import type { Route } from "./+types/signIn";

export const meta: Route.MetaFunction = () => [{ title: "Sign in – Kalonomy" }];

const HOME = "/library";

/**
 * Only our own addresses, so that a link cannot lead a visitor elsewhere after signing in: read as a browser reads it, which
 * passes over tabs and line ends, and takes a backslash for a slash.
 */
function whereTo(url: string): string {
  const to = new URL(url).searchParams.get("to") ?? HOME;
  if (!to.startsWith("/") || /[\\\p{Cc}]/u.test(to)) return HOME;
  const own = "http://own.invalid";
  if (!URL.canParse(to, own)) return HOME;
  const { origin, pathname, search, hash } = new URL(to, own);
  return origin === own && !pathname.startsWith("//") ? pathname + search + hash : HOME;
}

export async function loader({ request, context }: Route.LoaderArgs) {
  if (context.get(personContext)) throw redirect(whereTo(request.url));
  return null;
}

export async function action({ request, context }: Route.ActionArgs) {
  let email = "";
  try {
    const form = await readForm(request);
    email = plainLine(String(form.get("email") ?? ""));
    const cookies = request.headers.get("Cookie");
    const account = email.trim().toLowerCase();
    const person = await checkSignIn({
      email,
      password: String(form.get("password") ?? ""),
      address: context.get(addressContext),
      device: knownDevice(cookies, account),
    });
    const headers = new Headers();
    const agent = plainLine(request.headers.get("User-Agent") ?? "");
    headers.append("Set-Cookie", await beginSession(person.id, agent));
    headers.append("Set-Cookie", rememberDevice(cookies, account));
    return redirect(whereTo(request.url), { headers });
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return data({ email, detail: error.detail }, { status: error.status });
  }
}

export default function SignIn({ actionData }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  return (
    <main className="sign-in">
      <div className="sign-in-sheet">
        <h1>Kalonomy</h1>
        <p>Textures at their real size, for every renderer of the studio.</p>
        <Form method="post">
          <Fields.Group className="mb-3" controlId="email">
            <Fields.Label>E-mail</Fields.Label>
            <Fields.Control
              name="email"
              type="email"
              autoComplete="username"
              required
              defaultValue={actionData?.email}
              autoFocus
            />
          </Fields.Group>
          <Fields.Group className="mb-3" controlId="password">
            <Fields.Label>Password</Fields.Label>
            <Fields.Control name="password" type="password" autoComplete="current-password" required />
          </Fields.Group>
          {actionData && <Alert variant="danger">{actionData.detail}</Alert>}
          <Button type="submit" disabled={busy}>
            Sign in
          </Button>
        </Form>
      </div>
    </main>
  );
}
