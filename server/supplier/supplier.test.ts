import { createHash } from "node:crypto";
import { createServer, type RequestListener, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, afterEach, beforeAll, describe, expect, test } from "@jest/globals";
import type { Catalogue, Order } from "#core/supply/catalogue";
import type { ProductSheet } from "#core/supply/productSheet";
import { openTestStudio, picture, zipOf, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let pictures: Buffer[];
beforeAll(async () => {
  studio = await openTestStudio();
  pictures = await Promise.all(["#884433", "#4477aa", "#223344"].map((color) => picture(color, 64)));
});
afterAll(() => studio.close());

const sha256 = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");

const line: ProductSheet["line"] = {
  name: "Weir",
  family: "brick",
  text: "",
  page: "https://weir.example/",
  layout: "repeating",
  licence: { name: "Free for every project", price: "free", credit: null },
  properties: { grade: "cut", use: ["wall inside"], frost: "F2", slip: null, fire: "A1", thicknessMm: 100 },
  workSize: { width: 190, height: 190 },
  jointMm: 10,
  coverSize: null,
  picture: { across: 4, up: 4 },
};
const catalogue = (): Catalogue => ({
  suppliers: [{ name: "Weir Clay", page: "https://weir.example/", place: "Weir" }],
  lines: [
    {
      ...line,
      id: "weir",
      supplier: "Weir Clay",
      pixels: [64],
      roles: ["base_color", "height"],
      types: ["png"],
      products: [
        {
          code: "W-1",
          name: "Weir, red",
          colour: "red",
          hex: "#884433",
          joints: [{ id: "dark", name: "dark", hex: "#222222" }],
          sheen: null,
        },
        { code: "W-2", name: "Weir, blue", colour: "blue", hex: "#4477aa", joints: [], sheen: null },
      ],
    },
  ],
});
const order: Order = {
  line: "weir",
  products: [
    { code: "W-1", joint: "dark" },
    { code: "W-2", joint: null },
  ],
  pixels: 64,
  roles: ["base_color"],
  type: "png",
};

const sheetOf = (change: Partial<ProductSheet> = {}): ProductSheet => ({
  sheet: 1,
  supplier: { name: "Weir Clay", page: "https://weir.example/" },
  line,
  products: [
    { code: "W-1", name: "Weir, red", variant: { colour: "red", joint: "dark" }, at: 0 },
    { code: "W-2", name: "Weir, blue", variant: { colour: "blue" }, at: 1 },
  ].map(({ at, ...product }) => ({
    ...product,
    variant: product.variant as Record<string, string>,
    color: null,
    sheen: null,
    heightAmplitudeMm: null,
    files: [
      {
        path: `${product.code}/base.png`,
        role: "base_color",
        sha256: sha256(pictures[at]),
        bytes: pictures[at].length,
        normalDirection: null,
      },
    ],
  })),
  ...change,
});

let server: Server | undefined;
afterEach(async () => {
  server?.closeAllConnections();
  await new Promise((resolve) => (server ? server.close(resolve) : resolve(undefined)));
  server = undefined;
});

interface Asked {
  without?: string[];
  products?: { code: string }[];
}

/** The sheet of what is asked for. */
const listed = ({ products }: Asked) =>
  sheetOf({ products: sheetOf().products.filter(({ code }) => products!.some((one) => one.code === code)) });

/** A supplier that answers as it is told; what it is not told, it does properly. */
async function supplier(answers: Record<string, RequestListener> = {}, patienceMs = 400) {
  const asked: { path: string; body: Asked }[] = [];
  const proper: Record<string, RequestListener> = {
    "/catalogue": (_request, response) => json(response, catalogue()),
    "/listing": (_request, response) => json(response, listed(asked.at(-1)!.body)),
    "/packages": (_request, response) => void sendZip(response, asked.at(-1)!.body.without ?? []),
  };
  server = createServer((request, response) => {
    const path = request.url!;
    let body = "";
    request.on("data", (chunk: Buffer) => (body += chunk.toString()));
    request.on("end", () => {
      asked.push({ path, body: body ? (JSON.parse(body) as Asked) : {} });
      (answers[path] ?? proper[path])(request, response);
    });
  });
  await new Promise<void>((resolve) => server!.listen(0, "127.0.0.1", resolve));
  const { supplierClient } = await import("#server/supplier/client");
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return { asked, client: supplierClient(address, { beginMs: patienceMs, silentMs: patienceMs }) };
}

const json = (response: Parameters<RequestListener>[1], body: unknown) =>
  response.setHeader("Content-Type", "application/json").end(JSON.stringify(body));

async function sendZip(response: Parameters<RequestListener>[1], without: string[], headers = {}) {
  const zip = await packageOf(without);
  response.writeHead(200, {
    "Content-Type": "application/zip",
    "Content-Length": zip.length,
    "Repr-Digest": `sha-256=:${createHash("sha256").update(zip).digest("base64")}:`,
    ...headers,
  });
  response.end(zip);
}

const packageOf = (without: string[]) =>
  zipOf({
    "product-sheet.json": JSON.stringify(sheetOf()),
    ...Object.fromEntries(
      sheetOf()
        .products.map(({ files }, at) => [files[0].path, pictures[at]] as const)
        .filter(([, bytes]) => !without.includes(sha256(bytes))),
    ),
  });

/** An intake that waits for a fetch, run by the given client. */
async function fetchNow(client: Awaited<ReturnType<typeof supplier>>["client"], wanted: Order = order) {
  const { database } = await import("#server/db/database");
  const { insertIntake } = await import("#server/intake/writes");
  const { runFetch } = await import("#server/intake/stages/fetch");
  const id = await insertIntake(database(), studio.person.id, {
    fetch: { order: wanted, supplier: "Weir Clay", line: "Weir" },
  });
  await runFetch(id, client, [10, 10]);
  return id;
}

const intake = async (id: string) => (await studio.api("GET", `/intakes/${id}`)).json;

describe("a supplier that does as it says", () => {
  test("sends a line whose facts land in the library: size, line, variant, licence; nothing comes twice", async () => {
    const { client, asked } = await supplier();
    const id = await fetchNow(client);
    const { readIntake } = await import("#server/intake/stages/read");
    await readIntake(id);
    const read = await intake(id);
    expect(read.state).toBe("review");
    expect(read.candidates.map(({ name }: { name: string }) => name)).toEqual(["Weir, blue", "Weir, red"]);
    const { json: accepted } = await studio.api("POST", `/intakes/${id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const red = accepted.materials.find(({ name }: { name: string }) => name === "Weir, red");
    const { json: material } = await studio.api("GET", `/materials/${red.id}`);
    expect(material).toMatchObject({
      line: "Weir",
      variant: { colour: "red", joint: "dark" },
      repeat: { width: 800, height: 800 },
      sizeState: "known",
      gauge: { method: "modules", across: 4, up: 4 },
      licence: { name: "Free for every project" },
      source: { supplier: "Weir Clay", productCode: "W-1", sheet: { line: { workSize: { width: 190 } } } },
    });

    const again = await fetchNow(client);
    expect(asked.at(-1)!.body.without!.sort()).toEqual(pictures.slice(0, 2).map(sha256).sort());
    await readIntake(again);
    expect((await intake(again)).candidates.map(({ maps }: { maps: unknown[] }) => maps.length)).toEqual([
      1, 1,
    ]);
  });

  test("is tried again where it fails once", async () => {
    let tries = 0;
    const { client } = await supplier({
      "/packages": (_request, response) => {
        if (tries++ === 0) response.writeHead(503).end();
        else void sendZip(response, []);
      },
    });
    expect(await intake(await fetchNow(client))).toMatchObject({ state: "reading", failure: null });
  });
});

describe("a supplier that fails or lies", () => {
  const zipHead = { "Content-Type": "application/zip" };
  const cases: [string, Record<string, RequestListener>, RegExp][] = [
    ["breaks", { "/packages": (_q, r) => void r.writeHead(500).end() }, /answers 500/],
    [
      "refuses with a reason",
      { "/listing": (_q, r) => void json(Object.assign(r, { statusCode: 404 }), { detail: "Sold out." }) },
      /answers 404: Sold out\./,
    ],
    ["never answers", { "/packages": () => undefined }, /did not answer within 0\.4 s/],
    [
      "falls silent",
      {
        "/packages": (_q, r) =>
          void r.writeHead(200, { ...zipHead, "Content-Length": 9000 }).write("PK\x03\x04"),
      },
      /fell silent/,
    ],
    [
      "hangs up",
      {
        "/packages": (_q, r) => {
          r.writeHead(200, { ...zipHead, "Content-Length": 9000 }).write("PK\x03\x04");
          setTimeout(() => r.destroy(), 30);
        },
      },
      /connection to the supplier broke/,
    ],
    [
      "sends a page for a zip",
      {
        "/packages": (_q, r) => void r.writeHead(200, { "Content-Type": "text/html" }).end("<h1>Hello</h1>"),
      },
      /a web page where a zip belongs/,
    ],
    [
      "calls a page a zip",
      { "/packages": (_q, r) => void r.writeHead(200, zipHead).end("<h1>") },
      /like no zip/,
    ],
    [
      "sends another content than its digest",
      { "/packages": (_q, r) => void sendZip(r, [], { "Repr-Digest": `sha-256=:${"A".repeat(43)}=:` }) },
      /digest/,
    ],
    [
      "announces far more than it listed",
      { "/packages": (_q, r) => void r.writeHead(200, { ...zipHead, "Content-Length": 9e9 }).end() },
      /announces .* MiB/,
    ],
    [
      "sends without end",
      {
        "/packages": (_q, r) => {
          r.writeHead(200, zipHead);
          const more = () =>
            void (r.destroyed || r.write(Buffer.alloc(2 ** 20, "PK"), () => setImmediate(more)));
          more();
        },
      },
      /sends more than/,
    ],
    [
      "sends us elsewhere",
      { "/listing": (_q, r) => void r.writeHead(302, { Location: "http://127.0.0.1:1/" }).end() },
      /another address/,
    ],
    [
      "lists no JSON",
      { "/listing": (_q, r) => void r.setHeader("Content-Type", "application/json").end("{") },
      /JSON/,
    ],
    [
      "lists paths that lead out",
      {
        "/listing": (_q, r) => {
          const sheet = sheetOf();
          sheet.products[0].files[0].path = "../../etc/passwd";
          json(r, sheet);
        },
      },
      /products\/0\/files\/0\/path/,
    ],
    [
      "lists what nobody asked for",
      {
        "/listing": (_q, r) => void json(r, sheetOf({ products: [{ ...sheetOf().products[0], code: "X" }] })),
      },
      /“X”, which nobody asked for/,
    ],
  ];
  test.each(cases)("%s", async (_name, answers, reason) => {
    const { client } = await supplier(answers);
    const { state, failure, candidates } = await intake(await fetchNow(client));
    expect({ state, candidates }).toEqual({ state: "failed", candidates: [] });
    expect(failure).toMatch(reason);
  });

  test("leaves a product out", async () => {
    const { client } = await supplier({
      "/listing": (_q, r) => void json(r, sheetOf({ products: [sheetOf().products[0]] })),
    });
    // Without pictures all are listed at once.
    const { failure } = await intake(await fetchNow(client, { ...order, roles: [] }));
    expect(failure).toMatch(/lacks W-2/);
  });

  test("exchanges a file: it is set aside, the rest goes on", async () => {
    const { takeIn } = await import("#server/testing/testStudio");
    const { candidates, ignored } = await takeIn(studio, {
      "weir.zip": await zipOf({
        "product-sheet.json": JSON.stringify(sheetOf()),
        "W-1/base.png": pictures[2],
        "W-2/base.png": pictures[1],
      }),
    });
    expect(candidates.map(({ name }: { name: string }) => name)).toEqual(["Weir, blue"]);
    expect(ignored).toContainEqual({
      file: "weir.zip/W-1/base.png",
      kind: "set-aside",
      reason: expect.stringContaining("not the file that the product sheet promises"),
    });
  });

  test("states sizes that its picture cannot have: the size is assumed, with a finding", async () => {
    const { takeIn } = await import("#server/testing/testStudio");
    const wrong = sheetOf({ line: { ...line, picture: { across: 4, up: 3 } } });
    const read = await takeIn(studio, {
      "weir.zip": await zipOf({
        "product-sheet.json": JSON.stringify(wrong),
        "W-2/base.png": pictures[1],
      }),
    });
    const [candidate] = read.candidates;
    expect(candidate.findings).toContainEqual(expect.objectContaining({ code: "sheet-disagrees" }));
    const { json: accepted } = await studio.api("POST", `/intakes/${read.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { json: material } = await studio.api("GET", `/materials/${accepted.materials[0].id}`);
    expect(material).toMatchObject({ sizeState: "assumed", repeat: { width: 800, height: 600 } });
  });

  test("sends plain colours: they are taken with the roughness of their sheen", async () => {
    const { takeIn } = await import("#server/testing/testStudio");
    const [product] = sheetOf().products;
    const plain = sheetOf({
      line: { ...line, layout: "plain", picture: null, workSize: null },
      products: [{ ...product, name: "Weir 1", files: [], color: "#aabbcc", sheen: 10 }],
    });
    const read = await takeIn(studio, {
      "weir.zip": await zipOf({ "product-sheet.json": JSON.stringify(plain) }),
    });
    expect(read.candidates).toMatchObject([{ name: "Weir 1", layout: "plain", maps: [] }]);
    const { json: accepted } = await studio.api("POST", `/intakes/${read.id}/accept`, {
      all: true,
      onClash: "keep-both",
    });
    const { json: material } = await studio.api("GET", `/materials/${accepted.materials[0].id}`);
    expect(material).toMatchObject({ layout: "plain", finish: { color: "#aabbcc", roughness: 0.353 } });
  });
});

describe("stopping and trying again", () => {
  test("variants are listed one by one, and a stop is heard while the supplier says nothing", async () => {
    const { client, asked } = await supplier(
      {
        "/listing": (_request, response) => {
          if (asked.at(-1)!.body.products![0].code === "W-1") json(response, listed(asked.at(-1)!.body));
        },
      },
      60_000,
    );
    const { database } = await import("#server/db/database");
    const { insertIntake } = await import("#server/intake/writes");
    const { runFetch } = await import("#server/intake/stages/fetch");
    const id = await insertIntake(database(), studio.person.id, {
      fetch: { order, supplier: "Weir Clay", line: "Weir" },
    });
    const running = runFetch(id, client, []);
    while (asked.length < 2) await new Promise((resolve) => setTimeout(resolve, 20));
    const said = async () => (await intake(id)).progress?.what ?? "";
    for (const end = Date.now() + 10_000; !(await said()).includes("for its list") && Date.now() < end;)
      await new Promise((resolve) => setTimeout(resolve, 50));
    expect(await said()).toContain("for its list");
    await studio.api("POST", `/intakes/${id}/fetch`, { wish: "stop" });
    await running;
    expect(asked.map(({ path }) => path)).toEqual(["/listing", "/listing"]);
    expect((await intake(id)).failure).toContain("stopped it");
  });

  test("a stopped fetch keeps nothing, and can be begun again", async () => {
    let release: () => void = () => undefined;
    const asked = new Promise<void>((resolve) => (release = resolve));
    const { client } = await supplier({
      "/packages": (_request, response) => {
        release();
        setTimeout(() => void sendZip(response, []), 150);
      },
    });
    const { database } = await import("#server/db/database");
    const { insertIntake } = await import("#server/intake/writes");
    const { runFetch } = await import("#server/intake/stages/fetch");
    const id = await insertIntake(database(), studio.person.id, {
      fetch: { order, supplier: "Weir Clay", line: "Weir" },
    });
    const running = runFetch(id, client, []);
    await asked;
    expect((await studio.api("POST", `/intakes/${id}/fetch`, { wish: "stop" })).status).toBe(200);
    await running;
    expect(await intake(id)).toMatchObject({
      state: "failed",
      failure: expect.stringContaining("stopped it"),
    });
    expect((await studio.api("GET", `/intakes/${id}/uploads`)).json.items).toEqual([]);

    expect((await studio.api("POST", `/intakes/${id}/fetch`, { wish: "again" })).json.state).toBe(
      "receiving",
    );
    await runFetch(id, client, []);
    expect((await intake(id)).state).toBe("reading");
    expect((await studio.api("POST", `/intakes/${id}/fetch`, { wish: "again" })).status).toBe(409);
  });

  test("without a service the calls say so, and a person who only looks may not fetch", async () => {
    expect((await studio.api("GET", "/catalogue")).json.detail).toContain("KALONOMY_SUPPLIERS");
    expect((await studio.api("POST", "/fetches", order)).status).toBe(404);
    const { token } = await studio.addPerson("look");
    expect((await studio.api("POST", "/fetches", order, { token })).status).toBe(403);
  });
});

describe("an order that does not fit what is on offer", () => {
  test.each([
    [{ line: "wier" }, "/line", /no line “wier”/],
    [{ products: [{ code: "W-3", joint: null }] }, "/products/0/code", /no product “W-3”/],
    [{ products: [{ code: "W-2", joint: "dark" }] }, "/products/0/joint", /comes with no joint/],
    [
      {
        products: [
          { code: "W-2", joint: null },
          { code: "W-2", joint: null },
        ],
      },
      "/products/1",
      /asked for twice/,
    ],
    [{ pixels: 4096 }, "/pixels", /comes in 64 px/],
    [{ roles: [] }, "/roles", /one map or more/],
    [{ roles: ["emission_color"] }, "/roles", /has no emission map/],
    [{ type: "tiff" }, "/type", /comes as png, not as tiff/],
  ])("%j is refused by its field", async (change, pointer, reason) => {
    const { client } = await supplier();
    const { checkOrder } = await import("#server/intake/fetching");
    const { lines } = await client.catalogue();
    try {
      checkOrder({ ...order, ...change } as Order, lines);
      throw new Error("It was taken.");
    } catch (error) {
      expect(error).toMatchObject({ status: 422, pointer, detail: expect.stringMatching(reason) });
    }
  });
});
