import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import type { Person } from "#server/auth/person";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";
import { screensOf } from "./testing/screens";

const NOBODY = "00000000-0000-4000-8000-000000000000";

let studio: TestStudio;
let maker: Person;
let keeper: ReturnType<typeof screensOf>;
let make: ReturnType<typeof screensOf>;
beforeAll(async () => {
  studio = await openTestStudio();
  maker = (await studio.addPerson("make")).person;
  [keeper, make] = [screensOf(studio.person), screensOf(maker)];
});
afterAll(() => studio.close());

const ask = async (method: string, path: string, body?: unknown) =>
  (await studio.api(method, path, body)).json;
const plain = async (name: string): Promise<string> =>
  (await ask("POST", "/materials", { name, layout: "plain", color: "#223344" })).id;
const refusal = (field: string, words: RegExp) => ({
  refused: { field, detail: expect.stringMatching(words) },
});
const idIn = (location: string | null) => location!.split("/")[2];

describe("the library", () => {
  test("makes a plain colour, and says which field does not fit", async () => {
    const send = (name: string, color: string) =>
      make.send("/library", ["intent", "plain"], ["name", name], ["color", color], ["roughness", "0.3"]);
    expect((await send(" ", "#aabbcc")).data).toMatchObject(refusal("name", /name/));
    expect((await send("Sky", "blue")).data).toMatchObject(refusal("color", /“blue” is no colour/));
    const { location } = await send("Sky", "#aabbcc");
    expect(await ask("GET", `/materials/${idIn(location)}`)).toMatchObject({
      name: "Sky",
      finish: { color: "#aabbcc", roughness: 0.3 },
    });
  });

  test("puts what is selected into a new collection, a known one and a project", async () => {
    const [a, b] = [await plain("Ash"), await plain("Beech")];
    const first = await make.send(
      "/library",
      ["intent", "collection"],
      ["newName", "Woods"],
      ["material", a],
    );
    const collection = idIn(first.data.to);
    await make.send("/library", ["intent", "collection"], ["collection", collection], ["material", b]);
    expect((await ask("GET", `/collections/${collection}`)).materials).toEqual([a, b]);
    const project = (await ask("POST", "/projects", { name: "Jetty" })).id;
    await make.send("/library", ["intent", "project"], ["project", project], ["material", b]);
    expect((await ask("GET", `/projects/${project}`)).materials).toEqual([b]);
  });

  test("refuses what is not there, in words and with nothing changed", async () => {
    const id = await plain("Cedar");
    const wrong: [string, string][][] = [
      [
        ["intent", "collection"],
        ["collection", NOBODY],
        ["material", id],
      ],
      [
        ["intent", "collection"],
        ["newName", "Lost woods"],
        ["material", NOBODY],
      ],
      [
        ["intent", "project"],
        ["project", NOBODY],
        ["material", id],
      ],
      [
        ["intent", "project"],
        ["project", "no id"],
        ["material", id],
      ],
      [
        ["intent", "collection"],
        ["newName", "Odd"],
        ["material", "no id"],
      ],
      [
        ["intent", "burn"],
        ["material", id],
      ],
    ];
    for (const fields of wrong) {
      const { status, data } = await make.send("/library", ...fields);
      expect([404, 422]).toContain(status);
      expect(data.refused.detail).toMatch(/^[A-Z“].*\.$/);
    }
    const names = (await ask("GET", "/collections")).items.map(({ name }: { name: string }) => name);
    expect(names).not.toContain("Lost woods");
    expect(names).not.toContain("Odd");
  });

  test("filters by words and size, comes in pages, and takes nonsense in the address for nothing", async () => {
    const { data } = await make.see("/library?q=cedar&sizeState=&days=7");
    expect(data).toMatchObject({ total: 1, samples: [{ name: "Cedar" }], pages: { page: 1, next: null } });
    for (const nonsense of [
      "page=0",
      "page=x",
      "sizeState=huge",
      `q=${"x".repeat(300)}`,
      "by=me",
      "constructor=x",
      "__proto__=x",
      "within=4",
      "page=1e9",
    ])
      expect((await make.see(`/library?${nonsense}`)).data).toMatchObject({ search: {}, pages: { page: 1 } });
    expect((await make.see("/library?page=400")).data).toMatchObject({ samples: [] });
  });
});

describe("a collection", () => {
  test("is made, given to a project, renamed, moved and deleted by a keeper", async () => {
    expect((await make.send("/collections", ["name", "  "])).data).toMatchObject(refusal("name", /name/));
    const { location } = await make.send("/collections", ["name", "Stones"]);
    const outer = idIn((await make.send("/collections", ["name", "Outside"])).location);
    const at = location!;
    const material = await plain("Basalt");
    await ask("PUT", `/collections/${idIn(at)}/materials`, { add: [material] });
    const project = (await ask("POST", "/projects", { name: "Pier" })).id;
    await make.send(at, ["intent", "give"], ["project", project]);
    expect((await make.see(at)).data).toMatchObject({
      total: 1,
      collection: { projects: [{ id: project }] },
    });
    await make.send(at, ["intent", "change"], ["name", "Hard stones"], ["parent", outer]);
    expect((await make.see(at)).data).toMatchObject({
      collection: { name: "Hard stones" },
      parent: { id: outer },
    });
    expect((await make.send(at, ["intent", "change"], ["name", ""])).data).toMatchObject(
      refusal("name", /name/),
    );
    expect(
      (
        await make.send(
          `/collections/${outer}`,
          ["intent", "change"],
          ["name", "Outside"],
          ["parent", idIn(at)],
        )
      ).data,
    ).toMatchObject(refusal("parent", /inside it/));
    await make.send(at, ["intent", "remove"], ["material", material]);
    expect((await make.see(at)).data.total).toBe(0);
    await make.send(at, ["intent", "take"], ["project", project]);
    expect((await make.see(at)).data.collection.projects).toEqual([]);
    expect((await make.send(at, ["intent", "delete"])).status).toBe(403);
    expect((await keeper.send(at, ["intent", "delete"])).location).toBe("/collections");
    expect((await make.see(at)).status).toBe(404);
  });

  test("cannot be given to what is not there, and is not there itself where it is not", async () => {
    const at = (await make.send("/collections", ["name", "Sands"])).location!;
    expect((await make.send(at, ["intent", "give"], ["project", NOBODY])).status).toBe(404);
    expect((await make.send(at, ["intent", "give"], ["project", "x"])).status).toBe(422);
    for (const intent of ["give", "change", "remove"])
      expect(
        (await make.send(`/collections/${NOBODY}`, ["intent", intent], ["name", "A"], ["project", NOBODY]))
          .status,
      ).toBe(404);
    expect((await make.see("/collections/nonsense")).status).toBe(404);
  });
});

test("a name that is too long is refused wherever one is given, with the field", async () => {
  const long = "x".repeat(201);
  const collection = (await make.send("/collections", ["name", "Short"])).location!;
  const project = (await make.send("/projects", ["name", "Short"])).location!;
  const finish = `/materials/${await plain("Short")}/finish`;
  const places: [address: string, field: string, ...fields: [string, string][]][] = [
    ["/collections", "name"],
    ["/projects", "name"],
    ["/library", "name", ["intent", "plain"], ["color", "#aabbcc"]],
    ["/library", "newName", ["intent", "collection"]],
    [collection, "name", ["intent", "change"]],
    [project, "name", ["intent", "change"]],
    [finish, "name", ["intent", "copy"]],
    [finish, "name", ["seen", "1"]],
  ];
  for (const [address, field, ...fields] of places)
    expect((await make.send(address, [field, long], ...fields)).data).toMatchObject(
      refusal(field, /1 to 200 characters/),
    );
});

describe("a project", () => {
  test("has a name and a number of its own, a camera, collections and single materials", async () => {
    expect((await make.send("/projects", ["name", ""])).data).toMatchObject(refusal("name", /name/));
    const at = (await make.send("/projects", ["name", "Slipway"], ["number", "88"])).location!;
    expect((await make.send("/projects", ["name", "Other"], ["number", "88"])).data).toMatchObject(
      refusal("number", /belongs to another/),
    );
    await make.send(at, ["intent", "change"], ["name", "Slipway, east"], ["number", ""]);
    expect((await make.see(at)).data.project).toMatchObject({ name: "Slipway, east", number: null });
    expect(
      (await make.send(at, ["intent", "camera"], ["widthPx", "0"], ["angleDegrees", "60"])).data,
    ).toMatchObject(refusal("widthPx", /./));
    await make.send(at, ["intent", "camera"], ["widthPx", "3000"], ["angleDegrees", "55"]);
    const [inside, single] = [await plain("Tar"), await plain("Rope")];
    const collection = (await ask("POST", "/collections", { name: "Rigging" })).id;
    await ask("PUT", `/collections/${collection}/materials`, { add: [inside] });
    await make.send(at, ["intent", "take-collection"], ["collection", collection]);
    await ask("PUT", `/projects/${idIn(at)}/materials`, { add: [single] });
    expect((await make.see(at)).data).toMatchObject({
      total: 2,
      project: { camera: { widthPx: 3000, angleDegrees: 55 } },
    });
    await ask("PATCH", `/materials/${inside}`, { finish: { roughness: 0.9 } });
    expect((await make.see(at)).data).toMatchObject({
      project: { newer: [inside], singly: 1 },
      taken: { [inside]: { taken: 1, newest: 2, singly: false }, [single]: { taken: 1, singly: true } },
    });
    await make.send(at, ["intent", "move-on"], ["material", inside]);
    expect((await make.see(at)).data).toMatchObject({
      project: { newer: [] },
      taken: { [inside]: { taken: 2, newest: 2 } },
    });
    await make.send(at, ["intent", "leave-material"], ["material", single]);
    await make.send(at, ["intent", "leave-collection"], ["collection", collection]);
    expect((await make.see(at)).data).toMatchObject({ total: 0, samples: [] });
    expect((await make.send(at, ["intent", "take-collection"], ["collection", NOBODY])).status).toBe(422);
    expect((await make.send(`/projects/${NOBODY}`, ["intent", "move-on"], ["material", inside])).status).toBe(
      404,
    );
  });
});

describe("a delivery", () => {
  test("is planned from the address, started, cancelled and asked for again", async () => {
    const id = await plain("Zinc");
    // More materials than an address holds are kept beside it, for a day.
    const chosen = await make.send("/library", ["intent", "convert"], ["material", id]);
    const { selection } = Object.fromEntries(new URL(chosen.location!, "http://x").searchParams);
    expect(
      (await make.see(`/deliveries/new?selection=${selection}&profile=gltf-2`)).data.summary.materials,
    ).toBe(1);
    expect((await make.see(`/deliveries/new?selection=${NOBODY}`)).data.wanted.selection).toBeUndefined();
    const nothing = await make.see("/deliveries/new");
    expect(nothing.data).toMatchObject({ summary: null, trouble: null });
    expect(
      (await make.see(`/deliveries/new?material=${id}&profile=gltf-2`)).data.summary.groups,
    ).toHaveLength(1);
    expect((await make.see(`/deliveries/new?material=${id}&profile=nonsense`)).data.trouble).toMatch(
      /nonsense/,
    );
    const wrong = await make.send(
      "/deliveries/new",
      ["material", id],
      ["profile", "nonsense"],
      ["newDestination", "Never made"],
    );
    expect(wrong.status).toBe(422);
    expect((await make.send("/deliveries/new", ["material", id])).status).toBe(422);
    const { location } = await make.send(
      "/deliveries/new",
      ["material", id],
      ["profile", "gltf-2"],
      ["newDestination", "Yard (east)"],
    );
    const { items } = await ask("GET", "/destinations");
    expect(items).toMatchObject([{ name: "Yard (east)", folder: "Yard -east-" }]);
    await make.send(location!, ["intent", "cancel"]);
    expect((await make.see(location!)).data.delivery.state).toBe("cancelled");
    expect((await make.send(location!, ["intent", "cancel"])).data.refused.detail).toMatch(
      /cancelled already/,
    );
    const again = await make.send(location!, ["intent", "again"]);
    expect((await make.see(again.location!)).data.delivery).toMatchObject({
      destination: { name: "Yard (east)" },
      profiles: ["gltf-2"],
      materials: [{ id }],
    });
    expect((await make.see("/deliveries")).data.items).toHaveLength(2);
    expect((await make.send(`/deliveries/${NOBODY}`, ["intent", "again"])).status).toBe(404);
  });
});

describe("an intake", () => {
  test("is accepted row by row with what a person set, or all of it", async () => {
    const intake = await takeIn(studio, {
      "reed_basecolor.png": await picture("#667744"),
      "reed_rough.png": await picture("#808080"),
      "moss_basecolor.png": await picture("#335522"),
    });
    const at = `/intakes/${intake.id}`;
    expect((await make.see(`${at}?page=1e300`)).data).toMatchObject({ page: 1 });
    expect((await make.see(`${at}?show=nonsense&words=reed`)).data).toMatchObject({
      shown: "all",
      filtered: 1,
    });
    const [reed] = (await make.see(`${at}?words=reed`)).data.here;
    const answer = await make.send(
      at,
      ["only", reed.id],
      [`${reed.id}/name`, "River reed"],
      [`${reed.id}/name-read`, "Reed"],
      [`${reed.id}/role/reed_rough.png`, "leave-out"],
    );
    expect(answer.data.materials).toMatchObject([{ name: "River reed" }]);
    expect((await ask("GET", `/materials/${answer.data.materials[0].id}`)).maps).toHaveLength(1);
    expect((await make.send(at, ["what", "all"])).data.materials).toMatchObject([{ name: "Moss" }]);
    expect((await make.send(at, ["only", "x"])).status).toBe(422);
    expect((await make.send(at, ["hold", "pause"])).status).toBe(409);
    expect((await make.send(at, ["again", "set-aside"])).status).toBe(409);
    expect((await make.see("/intakes")).data.items[0]).toMatchObject({ id: intake.id, accepted: 2 });
  });
});

describe("people", () => {
  test("are added, changed and retired by a keeper, who cannot retire themselves", async () => {
    const add = (email: string, password: string) =>
      keeper.send(
        "/people",
        ["intent", "add"],
        ["name", "Wen"],
        ["email", email],
        ["password", password],
        ["level", "make"],
      );
    expect((await add("wen", "long enough for it")).data).toMatchObject(refusal("email", /address/));
    expect((await add("wen@studio.example", "short")).data).toMatchObject(refusal("password", /characters/));
    expect((await add("wen@studio.example", "long enough for it")).data.done).toContain("Wen can sign in");
    expect((await add("Wen@studio.example", "long enough for it")).status).toBe(409);
    const { people } = (await keeper.see("/people")).data;
    const { id } = people.find(({ name }: { name: string }) => name === "Wen");
    await keeper.send("/people", ["intent", "level"], ["id", id], ["level", "look"]);
    expect((await keeper.send("/people", ["intent", "level"], ["id", id], ["level", "all"])).status).toBe(
      422,
    );
    expect((await keeper.send("/people", ["intent", "level"], ["id", "x"], ["level", "look"])).status).toBe(
      422,
    );
    expect(
      (await keeper.send("/people", ["intent", "password"], ["id", NOBODY], ["password", "long enough!"]))
        .status,
    ).toBe(404);
    expect(
      (await keeper.send("/people", ["intent", "retire"], ["id", studio.person.id])).data.refused.detail,
    ).toMatch(/yourself/);
    await keeper.send("/people", ["intent", "retire"], ["id", id]);
    expect((await keeper.see("/people")).data.people.map((one: Person) => one.name)).not.toContain("Wen");
  });

  test("make tokens and end sessions of their own", async () => {
    const { data } = await make.send("/me", ["intent", "token"], ["name", "night script"]);
    expect(data.token).toMatch(/^token_/);
    const [token] = (await make.see("/me")).data.tokens.filter(
      ({ name }: { name: string }) => name === "night script",
    );
    expect((await keeper.send("/me", ["intent", "revoke"], ["id", token.id])).status).toBe(404);
    // Somebody else's stays.
    expect((await studio.api("GET", "/me", undefined, { token: data.token })).json.name).toBe(maker.name);
    await make.send("/me", ["intent", "revoke"], ["id", token.id]);
    expect((await studio.api("GET", "/me", undefined, { token: data.token })).status).toBe(401);
    expect(
      (
        await make.send(
          "/me",
          ["intent", "password"],
          ["now", "x"],
          ["next", "one way"],
          ["again", "another"],
        )
      ).data,
    ).toMatchObject(refusal("again", /two ways/));
    expect((await make.send("/me", ["intent", "end"], ["id", "x"])).status).toBe(422);
  });

  test("keep the scale and unit that they look in, of those that there are", async () => {
    expect((await make.send("/view", ["unit", "cm"], ["scale", "20"])).data).toEqual({ kept: true });
    for (const [field, value] of [
      ["unit", "furlong"],
      ["scale", "-1"],
      ["scale", "NaN"],
    ] as const)
      expect((await make.send("/view", [field, value])).status).toBe(422);
  });
});

describe("a material's facts", () => {
  test("are saved, taken away, and refused field by field", async () => {
    const at = `/materials/${await plain("Slate blue")}/facts`;
    const facts = (...changed: [string, string][]): [string, string][] =>
      Object.entries({
        family: "stone",
        tags: "harbour, cold, Harbour",
        supplier: "Skerry",
        product: "",
        productCode: "S-1",
        page: "",
        licence: "",
        ...Object.fromEntries(changed),
      });
    expect((await make.send(at, ...facts())).data).toEqual({ saved: true });
    const material = () => ask("GET", at.replace("/facts", ""));
    expect((await make.send(at, ...facts(["tags", `wet, ${"x".repeat(41)}`]))).data).toMatchObject(
      refusal("tags", /40/),
    );
    expect(await material()).toMatchObject({ family: "stone", tags: ["cold", "harbour"] });
    expect((await material()).source).toMatchObject({
      supplier: "Skerry",
      product: null,
      productCode: "S-1",
    });

    const wrong: [field: string, words: RegExp, ...changed: [string, string][]][] = [
      ["page", /https/, ["page", "javascript:alert(1)"]],
      ["page", /https/, ["page", "skerry"]],
      ["licence", /not an id|no such licence/, ["licence", "x"]],
      ["name", /Leave it out/, ["licence", "new"]],
      ["endsOn", /2027-03-31/, ["licence", "new"], ["name", "Odd"], ["endsOn", "soon"]],
      ["price", /./, ["licence", "new"], ["name", "Odd"], ["price", "cheap"]],
      ["licence.id", /no such licence/, ["licence", NOBODY]],
      ["licence.project", /no such project/, ["licence", "new"], ["name", "Odd"], ["project", NOBODY]],
    ];
    for (const [field, words, ...changed] of wrong)
      expect((await make.send(at, ...facts(...changed))).data).toMatchObject(refusal(field, words));
    expect((await material()).licence).toBeNull();

    const project = (await ask("POST", "/projects", { name: "Skerry light" })).id;
    const bought: [string, string][] = [
      ["licence", "new"],
      ["name", "Skerry light, bought"],
      ["price", "bought"],
      ["project", project],
      ["endsOn", "2020-02-29"],
      ["credit", "Skerry Slate"],
    ];
    await make.send(at, ...facts(...bought));
    const { licence } = await material();
    expect(licence).toMatchObject({
      project,
      projectName: "Skerry light",
      endsOn: "2020-02-29",
      price: "bought",
    });
    expect((await make.send(at, ...facts(...bought))).data).toMatchObject(refusal("licence.name", /already/));
    // A licence that the studio knows is chosen for the next one.
    const second = `/materials/${await plain("Slate grey")}/facts`;
    await make.send(second, ...facts(["licence", licence.id]));
    expect((await ask("GET", second.replace("/facts", ""))).licence.id).toBe(licence.id);
    await make.send(at, ...facts(["supplier", ""]));
    expect(await material()).toMatchObject({ licence: null, source: { supplier: null } });
  });

  test("go with what is made of it, and are told by a delivery", async () => {
    const id = await plain("Loan blue");
    const project = (await ask("POST", "/projects", { name: "Loan house" })).id;
    const licence = { name: "For Loan house", price: "bought", project, credit: "Loom Street" };
    await ask("PATCH", `/materials/${id}/facts`, { licence });
    const copy = (await ask("POST", "/materials", { name: "Loan blue, dark", from: id })).id;
    expect((await ask("GET", `/materials/${copy}`)).licence.name).toBe("For Loan house");
    const [elsewhere] = (await ask("POST", "/deliveries/plan", { materials: [copy], profiles: ["gltf-2"] }))
      .materials;
    expect(elsewhere.warnings).toContain("The licence “For Loan house” is for the project Loan house alone.");
    expect(elsewhere.steps).toContain("Name Loom Street where pictures with it are shown.");
    await ask("PUT", `/projects/${project}/materials`, { add: [copy] });
    const [there] = (await ask("POST", "/deliveries/plan", { project, profiles: ["gltf-2"] })).materials;
    expect(there.warnings).toEqual([]);
  });
});

describe("a material's finish", () => {
  test("is saved, copied, and refused field by field", async () => {
    const at = `/materials/${await plain("Lead")}/finish`;
    expect((await make.send(at, ["name", "Lead"], ["roughness", "7"], ["seen", "1"])).data).toMatchObject(
      refusal("roughness", /roughness/),
    );
    expect((await make.send(at, ["name", ""], ["seen", "1"])).data).toMatchObject(
      refusal("name", /1 to 200/),
    );
    expect((await make.send(at, ["name", "Lead, dull"], ["roughness", "0,7"], ["seen", "1"])).data).toEqual({
      saved: 2,
    });
    const second = await make.send(
      at,
      ["name", "Lead"],
      ["roughness", "0.2"],
      ["seen", "1"],
      ["seenName", "Lead"],
    );
    expect(second.data.meanwhile).toMatchObject({
      revision: 2,
      by: maker.name,
      fields: expect.arrayContaining([
        { field: "name", base: "Lead", theirs: "Lead, dull", mine: "Lead", changedBy: "them" },
        { field: "roughness", base: 0.5, theirs: 0.7, mine: 0.2, changedBy: "both" },
      ]),
    });
    expect(second.data.meanwhile.fields).toHaveLength(2);
    expect((await make.send(at, ["intent", "copy"], ["name", " "])).data).toMatchObject(
      refusal("name", /copy/),
    );
    const copy = await make.send(at, ["intent", "copy"], ["name", "Lead, new"]);
    expect((await ask("GET", `/materials/${idIn(copy.location)}`)).finish.roughness).toBe(0.7);
    expect((await make.send(at, ["intent", "delete"])).status).toBe(403);
    expect((await keeper.send(at, ["intent", "delete"])).location).toBe("/library");
  });
});
