import { data, redirect, type ActionFunctionArgs, type LoaderFunctionArgs } from "react-router";
import { z } from "zod";
import { actingFor } from "#server/actor";
import { requireScreen } from "#server/auth/access";
import { personContext, requestContext } from "#server/auth/personContext";
import type { Person } from "#server/auth/person";
import { awayProblem, RETRY_AFTER } from "#server/http/away";
import { cleanForm } from "#server/http/cleanForm";
import { Problem } from "#server/problem";
import { log } from "#server/log";
import type { Refused } from "./refusal";

/**
 * A loader for people who may see the screen (server/auth/access): somebody signed out is sent to sign in, and comes back.
 * Every loader and action of a screen is made by this or by `act`.
 */
export function look<A extends LoaderFunctionArgs, R>(load: (args: A & { person: Person }) => Promise<R>) {
  return async (args: A): Promise<R> => {
    const person = args.context.get(personContext);
    if (!person) throw toSignIn(args.request);
    return asResponse(args, async () =>
      load({ ...args, person: requireScreen(person, args.pattern, "see") }),
    );
  };
}

/** An action for people who may send the screen's form. What they can put right comes back as `refused`. */
export function act<A extends ActionFunctionArgs, R>(
  work: (args: A & { person: Person; form: FormData }) => Promise<R>,
) {
  return async (args: A): Promise<R | ReturnType<typeof data<Refused>>> => {
    const person = args.context.get(personContext);
    if (!person) throw toSignIn(args.request);
    try {
      requireScreen(person, args.pattern, "change");
      const form = await readForm(args.request);
      requireScreen(person, args.pattern, "change", String(form.get("intent") ?? ""));
      return await actingFor(person.id, () => work({ ...args, person, form }));
    } catch (error) {
      const problem = error instanceof z.ZodError ? unreadable(error) : error;
      if (!(problem instanceof Problem)) throw told(error, args);
      const { status, detail, pointer } = problem;
      return data({ refused: { status, detail, field: pointer?.slice(1).split("/").join(".") } }, { status });
    }
  };
}

/** The form of a request, through the gate for text from outside. @throws {Problem} where it is none */
export async function readForm(request: Request): Promise<FormData> {
  const form = await request.formData().catch(() => {
    throw new Problem(
      400,
      "Not a form",
      "What was sent is no proper form. Load the page again and repeat it.",
    );
  });
  return cleanForm(form);
}

/** A form that no screen of ours sends: hidden fields with something else in them. */
const unreadable = ({ issues: [issue] }: z.ZodError) =>
  new Problem(
    422,
    "Not acceptable",
    `What was sent cannot be read${issue.path.length > 0 ? ` (${issue.path.join(" ")})` : ""}. Load the page again and repeat it.`,
  );

/** The id in the address. @throws a 404 for anything that is no id. */
export function idOf(params: { id?: string }): string {
  const id = z.uuid().safeParse(params.id);
  if (!id.success) throw data("There is nothing at this address.", { status: 404 });
  return id.data;
}

/** A value that is there, or a 404. */
export function found<T>(value: T | undefined, what: string): T {
  if (value === undefined) throw data(`There is no such ${what}.`, { status: 404 });
  return value;
}

async function asResponse<R>(args: LoaderFunctionArgs, work: () => Promise<R>): Promise<R> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof Problem) throw data(error.detail, { status: error.status });
    throw told(error, args);
  }
}

/** A defect is logged, and the person told the number to find it by; answers that are thrown stay as they are. */
function told(error: unknown, { context, request }: LoaderFunctionArgs): unknown {
  if (!(error instanceof Error)) return error;
  const away = awayProblem(error);
  if (away) return data(away.detail, { status: away.status, headers: { "Retry-After": RETRY_AFTER } });
  const number = context.get(requestContext);
  log.error({ err: error, request: number, path: new URL(request.url).pathname }, "defect");
  return data(`Something went wrong here, and is logged. Tell the keeper this number: ${number}`, {
    status: 500,
  });
}

function toSignIn(request: Request): Response {
  const { pathname, search } = new URL(request.url);
  return redirect(`/sign-in?${new URLSearchParams({ to: pathname + search })}`);
}
