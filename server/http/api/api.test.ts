import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { nameOf } from "#server/http/api/call";
import { CALLS } from "#server/main/calls";
import { CALLS as ACCESS } from "#server/auth/access";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const NOBODY_ID = "00000000-0000-4000-8000-000000000000";
const concrete = (path: string) => path.replaceAll(/:\w+/g, NOBODY_ID);

describe("who may call", () => {
  test("is said for every call, and for nothing that is none", () => {
    const others = [
      "GET /openapi.json",
      "* /uploads",
      "GET /files/:sha256",
      "GET /previews/:sha256/:channel/:part",
    ];
    expect(Object.keys(ACCESS).sort()).toEqual([...CALLS.map(nameOf), ...others].sort());
  });

  test.each(CALLS.map((call) => [call.method.toUpperCase(), call.path, ACCESS[nameOf(call)]] as const))(
    "%s %s is for people who may %s",
    async (method, path, level) => {
      if (path === "/events")
        return expect((await studio.api(method, path, undefined, { token: null })).status).toBe(401);
      const body = method === "GET" ? undefined : {};
      const signedOut = await studio.api(method, concrete(path), body, { token: null });
      expect(signedOut.status).toBe(401);
      expect(signedOut.type).toContain("application/problem+json");
      expect((await studio.api(method, concrete(path), body, { token: "token_made_up" })).status).toBe(401);
      for (const [who, allowed] of [
        ["look", level === "look"],
        ["make", level !== "keep"],
        ["keep", true],
      ] as const) {
        const { token } = await studio.addPerson(who);
        const { status } = await studio.api(method, concrete(path), body, { token });
        expect({ who, refused: status === 403 }).toEqual({ who, refused: !allowed });
        expect(status).toBeLessThan(500);
      }
    },
  );

  test("a revoked token and a retired person are nobody", async () => {
    const { database } = await import("#server/db/database");
    const { listTokens } = await import("#server/auth/queries");
    const { retirePerson } = await import("#server/people/writes");
    const { revokeToken } = await import("#server/auth/writes");
    const one = await studio.addPerson("make");
    expect((await studio.api("GET", "/profiles", undefined, { token: one.token })).status).toBe(200);
    const [token] = await listTokens(database(), one.person.id);
    await revokeToken(database(), one.person.id, token.id);
    expect((await studio.api("GET", "/profiles", undefined, { token: one.token })).status).toBe(401);
    const two = await studio.addPerson("keep");
    await retirePerson(database(), two.person.id);
    expect((await studio.api("GET", "/profiles", undefined, { token: two.token })).status).toBe(401);
  });
});

describe("errors", () => {
  test("are problems with title and detail, whatever comes", async () => {
    const problems = [
      await studio.api("GET", "/nowhere"),
      await studio.api("GET", "/materials/not-an-id"),
      await studio.api("GET", `/materials/${NOBODY_ID}`),
      await studio.api("GET", "/materials?page=minus-one"),
      await studio.api("POST", "/collections", { name: "  " }),
      await studio.api("POST", "/collections", { name: "x".repeat(201) }),
      await studio.api("PATCH", `/materials/${NOBODY_ID}`, {}, { headers: { "If-Match": "yesterday" } }),
    ];
    expect(problems.map(({ status }) => status)).toEqual([404, 404, 404, 422, 422, 422, 400]);
    for (const { json, type } of problems) {
      expect(type).toContain("application/problem+json");
      expect(json).toMatchObject({ title: expect.any(String), detail: expect.any(String) });
    }
    const noJson = await fetch(`${studio.address}/collections`, {
      method: "POST",
      headers: {
        Authorization: `Bearer ${(await studio.addPerson("make")).token}`,
        "Content-Type": "application/json",
      },
      body: "{not json",
    });
    expect(noJson.status).toBe(400);
  });
});

describe("collections and projects", () => {
  test("one collection is shared by two projects; what is added to it later reaches both", async () => {
    const material = async (name: string) =>
      (await studio.api("POST", "/materials", { name, layout: "plain", color: "#123456" })).json.id as string;
    const [red, blue, single] = [await material("Red"), await material("Blue"), await material("Single")];
    const outer = (await studio.api("POST", "/collections", { name: "House" })).json;
    const inner = (await studio.api("POST", "/collections", { name: "Doors", parent: outer.id })).json;
    expect(inner.parent).toBe(outer.id);
    await studio.api("PUT", `/collections/${inner.id}/materials`, { add: [red] });

    const projects = [];
    for (const name of ["Landing", "Library"]) {
      const project = (await studio.api("POST", "/projects", { name })).json;
      projects.push(project.id);
      expect(
        (await studio.api("PUT", `/projects/${project.id}/collections`, { add: [outer.id] })).status,
      ).toBe(200);
    }
    await studio.api("PUT", `/collections/${outer.id}/materials`, { add: [blue, blue], remove: [] });
    await studio.api("PUT", `/projects/${projects[1]}/materials`, { add: [single] });
    const materialsOf = async (id: string) =>
      (await studio.api("GET", `/projects/${id}`)).json.revisions
        .map((row: { material: string }) => row.material)
        .sort();
    expect(await materialsOf(projects[0])).toEqual([red, blue].sort());
    expect(await materialsOf(projects[1])).toEqual([red, blue, single].sort());
    expect(
      (await studio.api("GET", `/collections/${outer.id}`)).json.projects.map(
        (row: { name: string }) => row.name,
      ),
    ).toEqual(["Landing", "Library"]);

    await studio.api("PUT", `/collections/${inner.id}/materials`, { remove: [red] });
    expect(await materialsOf(projects[0])).toEqual([blue]);
    await studio.api("PUT", `/projects/${projects[0]}/collections`, { remove: [outer.id] });
    expect(await materialsOf(projects[0])).toEqual([]);
  });

  test("a collection is renamed and moved, and what projects have by it follows; never into itself", async () => {
    const red = (await studio.api("POST", "/materials", { name: "Moved", layout: "plain", color: "#a01020" }))
      .json.id as string;
    const make = async (name: string, parent?: string) =>
      (await studio.api("POST", "/collections", { name, parent })).json.id as string;
    const street = await make("Street");
    const yard = await make("Yard");
    const gate = await make("Gate", yard);
    await studio.api("PUT", `/collections/${gate}/materials`, { add: [red] });
    const project = (await studio.api("POST", "/projects", { name: "Terrace" })).json.id as string;
    await studio.api("PUT", `/projects/${project}/collections`, { add: [street] });
    const had = async () => (await studio.api("GET", `/projects/${project}`)).json.revisions.length as number;
    const change = (id: string, body: object) => studio.api("PATCH", `/collections/${id}`, body);

    expect(await had()).toBe(0);
    expect((await change(gate, { name: "Iron gate", parent: street })).json).toMatchObject({
      name: "Iron gate",
      parent: street,
    });
    expect(await had()).toBe(1);
    expect((await change(gate, { name: "Gate" })).json.parent).toBe(street);
    expect((await change(gate, { parent: null })).json).toMatchObject({ name: "Gate", parent: null });
    expect(await had()).toBe(0);

    await change(gate, { parent: yard });
    const refused = await change(yard, { parent: gate });
    expect(refused.json).toMatchObject({ status: 422, pointer: "/parent" });
    expect((await change(yard, { name: "Street" })).json).toMatchObject({ status: 409, pointer: "/name" });
    expect((await change(yard, { parent: NOBODY_ID })).json.pointer).toBe("/parent");

    await change(yard, { parent: street });
    expect(await had()).toBe(1);
    await studio.api("DELETE", `/collections/${gate}`);
    expect(await had()).toBe(0);
    expect((await studio.api("DELETE", `/collections/${gate}`)).status).toBe(404);
  });

  test("two moves at once cannot make a ring together", async () => {
    const [a, b] = await Promise.all(
      ["Ring one", "Ring two"].map(
        async (name) => (await studio.api("POST", "/collections", { name })).json.id as string,
      ),
    );
    // Often enough for the two to meet at every place.
    for (let round = 0; round < 12; round++) {
      const answers = await Promise.all([
        studio.api("PATCH", `/collections/${a}`, { parent: b }),
        studio.api("PATCH", `/collections/${b}`, { parent: a }),
      ]);
      expect(answers.map(({ status }) => status).sort()).toEqual([200, 422]);
      for (const id of [a, b]) await studio.api("PATCH", `/collections/${id}`, { parent: null });
    }
  });

  test("a project takes another name and number, or none, and nobody else's", async () => {
    const make = async (name: string, number: string) =>
      (await studio.api("POST", "/projects", { name, number })).json.id as string;
    const one = await make("Boat house", "71");
    await make("Sail loft", "72");
    const change = (body: object) => studio.api("PATCH", `/projects/${one}`, body);
    expect((await change({ name: "Boat shed" })).json).toMatchObject({ name: "Boat shed", number: "71" });
    expect((await change({ number: null })).json).toMatchObject({ name: "Boat shed", number: null });
    expect((await change({ number: "72" })).json).toMatchObject({ status: 409, pointer: "/number" });
    expect((await change({ name: "Sail loft" })).json).toMatchObject({ status: 409, pointer: "/name" });
  });

  test("names and numbers are unique, and what does not exist is named", async () => {
    await studio.api("POST", "/collections", { name: "Once" });
    expect((await studio.api("POST", "/collections", { name: "Once" })).json).toMatchObject({
      status: 409,
      pointer: "/name",
    });
    await studio.api("POST", "/projects", { name: "P", number: "9" });
    expect((await studio.api("POST", "/projects", { name: "Q", number: "9" })).json).toMatchObject({
      status: 409,
      pointer: "/number",
    });
    const collection = (await studio.api("POST", "/collections", { name: "Empty" })).json;
    const refused = await studio.api("PUT", `/collections/${collection.id}/materials`, { add: [NOBODY_ID] });
    expect(refused.json).toMatchObject({
      status: 422,
      pointer: "/add/0",
      detail: expect.stringContaining(NOBODY_ID),
    });
    expect((await studio.api("POST", "/collections", { name: "Lost", parent: NOBODY_ID })).json.pointer).toBe(
      "/parent",
    );
  });
});

test("openapi.json describes every call", async () => {
  const { json, status } = await studio.api("GET", "/openapi.json", undefined, { token: null });
  expect(status).toBe(200);
  expect(json.openapi).toBe("3.1.0");
  for (const { method, path } of CALLS)
    expect(json.paths[path.replaceAll(/:(\w+)/g, "{$1}")][method].responses).toBeDefined();
  expect(
    json.paths["/materials/{id}/repeat"].put.requestBody.content["application/json"].schema.oneOf,
  ).toHaveLength(8);
});

test("events tell of what happened, once it is saved", async () => {
  const { token } = await studio.addPerson("look");
  const response = await fetch(`${studio.address}/events`, { headers: { Authorization: `Bearer ${token}` } });
  const reader = response.body!.getReader();
  const { json } = await studio.api("POST", "/materials", {
    name: "Announced",
    layout: "plain",
    color: "#123456",
  });
  let heard = "";
  while (!heard.includes("data:")) heard += new TextDecoder().decode((await reader.read()).value);
  await reader.cancel();
  expect(heard).toContain(JSON.stringify({ topic: "library", id: json.id }));
});
