import { Alert, Form as Fields } from "react-bootstrap";
import { data, Form, redirect, useNavigation } from "react-router";
import { checkSignIn } from "#server/auth/signIn";
import { addressContext, personContext } from "#server/auth/personContext";
import { beginSession } from "#server/auth/sessions";
import { Problem } from "#server/problem";
import { Button } from "../components/Button";
import type { Route } from "./+types/signIn";

export const meta: Route.MetaFunction = () => [{ title: "Sign in – Kalonomy" }];

/** Only our own addresses, so that a link cannot lead a visitor elsewhere after signing in. */
function whereTo(url: string): string {
  const to = new URL(url).searchParams.get("to") ?? "/library";
  return /^\/(?![/\\])/.test(to) ? to : "/library";
}

export async function loader({ request, context }: Route.LoaderArgs) {
  if (context.get(personContext)) throw redirect(whereTo(request.url));
  return null;
}

export async function action({ request, context }: Route.ActionArgs) {
  const form = await request.formData();
  const email = String(form.get("email") ?? "");
  try {
    const person = await checkSignIn(email, String(form.get("password") ?? ""), context.get(addressContext));
    const session = await beginSession(person.id, request.headers.get("User-Agent") ?? undefined);
    return redirect(whereTo(request.url), { headers: { "Set-Cookie": session } });
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
