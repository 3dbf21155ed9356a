import { readdir } from "node:fs/promises";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import {
  createStaticHandler,
  RouterContextProvider,
  type ActionFunctionArgs,
  type LoaderFunction,
  type LoaderFunctionArgs,
  type RouteObject,
} from "react-router";
import type { RouteConfigEntry } from "@react-router/dev/routes";
import { requireScreen, SCREENS } from "#server/auth/access";
import { personContext } from "#server/auth/personContext";
import { LEVELS, type Level, type Person } from "#server/auth/person";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";
import routes from "./routes";

const ID = "00000000-0000-4000-8000-000000000000";

interface RouteModule {
  loader?(args: LoaderFunctionArgs): Promise<unknown>;
  action?(args: ActionFunctionArgs): Promise<unknown>;
}

interface Place {
  file: string;
  /** As the table of who may do what names it. */
  pattern: string;
}

/** Every route that has an address of its own, with those that only lie around others under their first one. */
function placesOf(entries: RouteConfigEntry[], above = ""): Place[] {
  return entries.flatMap(({ file, path, index, children = [] }) => {
    const pattern = path ? `${above}/${path}` : above || "/";
    const inner = placesOf(children, path ? pattern : above);
    return [{ file, pattern: path || index ? pattern : (inner[0]?.pattern ?? pattern) }, ...inner];
  });
}
const places = placesOf(routes);
const files = [...new Set(places.map(({ file }) => file))];
const concrete = (pattern: string) => pattern.replace(":code", "QP-1-A").replaceAll(/:\w+/g, ID);

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function call(
  { file, pattern }: Place,
  kind: "loader" | "action",
  level: Level | null,
  fields: Record<string, string> = {},
): Promise<{ status: number; location: string | null; data?: unknown }> {
  const module = (await import(`./${file.replace(/\.tsx$/, "")}.tsx`)) as RouteModule;
  const work = module[kind];
  if (!work) return { status: 0, location: null };
  const context = new RouterContextProvider();
  if (level) context.set(personContext, (await studio.addPerson(level)).person);
  const request = new Request(
    `http://studio.example${concrete(pattern)}?x=1`,
    kind === "action" ? { method: "POST", body: new URLSearchParams(fields) } : {},
  );
  const args = { request, context, params: { id: ID }, pattern } as unknown as LoaderFunctionArgs &
    ActionFunctionArgs;
  const outcome: unknown = await work(args).catch((thrown: unknown) => thrown);
  if (outcome instanceof Response)
    return { status: outcome.status, location: outcome.headers.get("Location") };
  if (outcome instanceof Error) return { status: 500, location: null };
  const { init, data } = (outcome ?? {}) as { init?: { status?: number }; data?: unknown };
  return { status: init?.status ?? 200, location: null, data };
}

test("every file of the routes folder is a route, and every route has a file", async () => {
  const there = (await readdir(new URL("./routes", import.meta.url))).map((name) => `routes/${name}`);
  expect(there.sort()).toEqual([...files].sort());
});

test("the table of who may do what has a row for every route, and none besides", () => {
  expect(Object.keys(SCREENS).sort()).toEqual([...new Set(places.map(({ pattern }) => pattern))].sort());
});

test("what no row is about can be seen and changed by nobody", () => {
  for (const pattern of ["/nowhere", "/PEOPLE", "/p%65ople", "/people/:id", "toString", "__proto__"])
    for (const way of ["see", "change"] as const)
      expect(() => requireScreen(studio.person, pattern, way)).toThrow("Nobody may do this");
});

describe("however an address is written, the router and the table mean the same screen", () => {
  const spellings = (path: string) => [
    path,
    path.toUpperCase(),
    path.replace(/^\/(.)/, (_, letter: string) => `/%${letter.charCodeAt(0).toString(16)}`),
    `${path}/`,
    path.replace(/[a-z]/g, (letter, at: number) => (at % 2 ? letter.toUpperCase() : letter)),
    `/${path}`,
  ];
  /** As React Router runs it: its own matching, its own pattern. */
  async function ask(path: string, person: Person) {
    const tree = await modules(routes);
    const context = new RouterContextProvider();
    context.set(personContext, person);
    const outcome = await createStaticHandler(tree).query(new Request(`http://studio.example${path}`), {
      requestContext: context,
    });
    if (outcome instanceof Response) return { status: outcome.status, data: "" };
    const errors = Object.values(outcome.errors ?? {}) as { status?: number }[];
    return { status: errors[0]?.status ?? outcome.statusCode, data: JSON.stringify(outcome.loaderData) };
  }

  async function modules(entries: RouteConfigEntry[]): Promise<RouteObject[]> {
    const tree: RouteObject[] = [];
    for (const { file, path, index, children } of entries) {
      const { loader } = (await import(`./${file}`)) as { loader?: LoaderFunction };
      if (index) tree.push({ id: file, index, loader });
      else tree.push({ id: file, path, loader, children: children && (await modules(children)) });
    }
    return tree;
  }

  test("the keeper's page is kept from those who may only look, in every spelling", async () => {
    const looker = (await studio.addPerson("look")).person;
    for (const path of spellings("/upkeep")) {
      const { status, data } = await ask(path, looker);
      expect({ path, refused: status === 403 || status === 404 }).toEqual({ path, refused: true });
      expect(data ?? "").not.toContain("databaseBytes");
    }
    expect((await ask("/UpKeep", (await studio.addPerson("keep")).person)).status).toBe(200);
  });

  test("every screen answers in each spelling as it does in its own, for each level", async () => {
    const levels = await Promise.all(LEVELS.map(async (level) => (await studio.addPerson(level)).person));
    for (const pattern of Object.keys(SCREENS).filter((one) => !/[:*]|sign/.test(one)))
      for (const person of levels) {
        const own = (await ask(pattern, person)).status;
        for (const path of spellings(pattern).slice(0, 4))
          expect({ path, level: person.level, status: (await ask(path, person)).status }).toEqual({
            path,
            level: person.level,
            status: own,
          });
      }
  });
});

const ofScreen = ({ pattern }: Place) => SCREENS[pattern];
const closed = places.filter((place) => ofScreen(place).see !== "anyone");

describe.each(closed)("$pattern ($file)", (place) => {
  test("sends a signed-out person to sign in, and back afterwards", async () => {
    for (const kind of ["loader", "action"] as const) {
      const { status, location } = await call(place, kind, null);
      if (status === 0) continue;
      const to = encodeURIComponent(`${concrete(place.pattern)}?x=1`).replaceAll("%20", "+");
      expect({ kind, status, location }).toEqual({ kind, status: 302, location: `/sign-in?to=${to}` });
    }
  });

  test("lets nobody act whose level is too low", async () => {
    const { change } = ofScreen(place);
    for (const level of LEVELS) {
      const { status } = await call(place, "action", level);
      if (status === 0) return;
      const may = change !== undefined && LEVELS.indexOf(level) >= LEVELS.indexOf(change as Level);
      expect({ level, refused: status === 403 }).toEqual({ level, refused: !may });
      // And what no form of the screen says is done by nobody: nothing is saved of it.
      const unknown = await call(place, "action", level, { intent: "nothing" });
      expect({ level, status: unknown.status }).toEqual({ level, status: may ? 422 : 403 });
    }
  });

  test("shows the page to those who may see it, or says that there is nothing", async () => {
    for (const level of LEVELS) {
      const { status } = await call(place, "loader", level);
      const may = LEVELS.indexOf(level) >= LEVELS.indexOf(ofScreen(place).see as Level);
      expect(may ? [0, 200, 302, 404] : [0, 403]).toContain(status);
    }
  });
});

describe("acts that need more than their screen", () => {
  const acts = places.flatMap((place) =>
    Object.entries(ofScreen(place).intents ?? {})
      .filter(([, level]) => level !== ofScreen(place).change)
      .map(([intent, level]) => ({ place, intent, level })),
  );
  test.each(acts)("$intent at $place.pattern", async ({ place, intent, level }) => {
    const below = LEVELS[LEVELS.indexOf(level as Level) - 1];
    const { status, data } = await call(place, "action", below, { intent });
    // The layout around a screen has no action.
    if (status === 0) return;
    expect(status).toBe(403);
    expect(data).toMatchObject({
      refused: { detail: expect.stringContaining(level === "keep" ? "delete and manage people" : "look") },
    });
  });

  test("are two at least", () => expect(acts.length).toBeGreaterThanOrEqual(2));
});

describe("signing in", () => {
  test.each([
    ["/projects?x=1", "/projects?x=1"],
    ["https://elsewhere.example/", "/library"],
    ["//elsewhere.example/", "/library"],
    ["/\\elsewhere.example/", "/library"],
    ["javascript:alert(1)", "/library"],
    ["/\t/elsewhere.example/x", "/library"],
    ["/\n/elsewhere.example/", "/library"],
    ["/\r\nSet-Cookie: a=b", "/library"],
    ["/.//elsewhere.example/", "/library"],
    ["/..//elsewhere.example/", "/library"],
    ["/projects#there", "/projects#there"],
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
