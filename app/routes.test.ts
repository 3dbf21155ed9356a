import { readdir } from "node:fs/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { RouterContextProvider, type ActionFunctionArgs, type LoaderFunctionArgs } from "react-router";
import type { RouteConfigEntry } from "@react-router/dev/routes";
import { personContext } from "#server/auth/personContext";
import type { Level } from "#server/db/people";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";
import routes from "./routes";

/** Screens that somebody signed out may reach. */
const OPEN = new Set(["routes/signIn.tsx", "routes/signOut.tsx"]);

/** What an action of a screen needs at the least, where it is not “make”. */
const ACTION_LEVELS: Record<string, Level> = { "routes/view.tsx": "look", "routes/people.tsx": "look" };

const ID = "00000000-0000-4000-8000-000000000000";

interface RouteModule {
  loader?(args: LoaderFunctionArgs): Promise<unknown>;
  action?(args: ActionFunctionArgs): Promise<unknown>;
}

const flat = (entries: RouteConfigEntry[]): RouteConfigEntry[] =>
  entries.flatMap((entry) => [entry, ...flat(entry.children ?? [])]);
const files = [...new Set(flat(routes).map(({ file }) => file))];

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function call(
  file: string,
  kind: "loader" | "action",
  level: Level | null,
): Promise<{ status: number; location: string | null }> {
  const module = (await import(`./${file.replace(/\.tsx$/, "")}.tsx`)) as RouteModule;
  const work = module[kind];
  if (!work) return { status: 0, location: null };
  const context = new RouterContextProvider();
  if (level) context.set(personContext, (await studio.addPerson(level)).person);
  const request = new Request(
    "http://studio.example/somewhere?x=1",
    kind === "action" ? { method: "POST", body: new URLSearchParams({ intent: "nothing" }) } : {},
  );
  const args = { request, context, params: { id: ID } } as unknown as LoaderFunctionArgs & ActionFunctionArgs;
  const outcome: unknown = await work(args).catch((thrown: unknown) => thrown);
  if (outcome instanceof Response)
    return { status: outcome.status, location: outcome.headers.get("Location") };
  if (outcome instanceof Error) return { status: 500, location: null };
  const init = (outcome as { init?: { status?: number } } | null)?.init;
  return { status: init?.status ?? 200, location: null };
}

test("every file of the routes folder is a route, and every route has a file", async () => {
  const there = (await readdir(new URL("./routes", import.meta.url))).map((name) => `routes/${name}`);
  expect(there.sort()).toEqual([...files].sort());
});

describe.each(files.filter((file) => !OPEN.has(file)))("%s", (file) => {
  test("sends a signed-out person to sign in, and back afterwards", async () => {
    for (const kind of ["loader", "action"] as const) {
      const { status, location } = await call(file, kind, null);
      if (status === 0) continue;
      expect({ kind, status, location }).toEqual({
        kind,
        status: 302,
        location: "/sign-in?to=%2Fsomewhere%3Fx%3D1",
      });
    }
  });

  test("lets nobody act whose level is too low", async () => {
    const least = ACTION_LEVELS[file] ?? "make";
    const { status } = await call(file, "action", "look");
    if (status === 0) return;
    if (least === "make") expect(status).toBe(403);
    else expect(status).not.toBe(403);
  });

  test("shows a person who looks the page, or says that there is nothing", async () => {
    const { status } = await call(file, "loader", "look");
    expect([0, 200, 302, 404]).toContain(status);
  });
});

describe("acts that only a keeper may do", () => {
  test.each([
    [
      "routes/people.tsx",
      { intent: "add", name: "X", email: "x@studio.example", password: "long enough", level: "keep" },
    ],
    ["routes/people.tsx", { intent: "retire", id: ID }],
    ["routes/benchFinish.tsx", { intent: "delete" }],
    ["routes/collection.tsx", { intent: "delete" }],
  ])("%s %j", async (file, fields) => {
    const module = (await import(`./${file.replace(/\.tsx$/, "")}.tsx`)) as RouteModule;
    const context = new RouterContextProvider();
    context.set(personContext, (await studio.addPerson("make")).person);
    const request = new Request("http://studio.example/", {
      method: "POST",
      body: new URLSearchParams(fields),
    });
    const outcome = await module.action!({
      request,
      context,
      params: { id: ID },
    } as unknown as ActionFunctionArgs);
    expect(outcome).toMatchObject({
      init: { status: 403 },
      data: { refused: { detail: expect.stringContaining("delete and manage people") } },
    });
  });
});

describe("signing in", () => {
  test.each([
    ["/projects?x=1", "/projects?x=1"],
    ["https://elsewhere.example/", "/library"],
    ["//elsewhere.example/", "/library"],
    ["/\\elsewhere.example/", "/library"],
    ["javascript:alert(1)", "/library"],
    ["", "/library"],
  ])("leads to %j as %j, and never to another site", async (to, expected) => {
    const { loader } = await import("./routes/signIn");
    const context = new RouterContextProvider();
    context.set(personContext, studio.person);
    const request = new Request(`http://studio.example/sign-in?${new URLSearchParams({ to })}`);
    const thrown = await loader({ request, context, params: {} } as never).catch(
      (response: Response) => response,
    );
    expect((thrown as Response).headers.get("Location")).toBe(expected);
  });
});
