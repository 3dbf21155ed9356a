import { redirect } from "react-router";
import { endSession } from "#server/auth/sessions";
import type { Route } from "./+types/signOut";

export const loader = () => redirect("/library");

export async function action({ request }: Route.ActionArgs) {
  return redirect("/sign-in", { headers: { "Set-Cookie": await endSession(request.headers.get("Cookie")) } });
}
