import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import sharp from "sharp";
import { finding } from "#core/findings/finding";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { runQueued, whileQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, type TestStudio, takeIn } from "#server/testing/testStudio";
import { createService, type Service } from "../../../supplier-service/service";

let studio: TestStudio;
let drawings: string;
let service: Service;
let supplier: Server;
beforeAll(async () => {
  // First, since the studio reads its settings as it opens.
  drawings = await mkdtemp(join(tmpdir(), "kalonomy-drawings-"));
  service = createService(drawings);
  supplier = service.app.listen(0, "127.0.0.1");
  await new Promise((resolve) => supplier.once("listening", resolve));
  process.env.KALONOMY_SUPPLIERS = `http://127.0.0.1:${(supplier.address() as AddressInfo).port}`;
  studio = await openTestStudio();
});
afterAll(async () => {
  supplier.closeAllConnections();
  await new Promise((resolve) => supplier.close(resolve));
  await service.close();
  await rm(drawings, { recursive: true, force: true });
  await studio.close();
});

const ask: TestStudio["ask"] = (...asked) => studio.ask(...asked);

async function takeAllIn(files: Record<string, Buffer>, fields: Record<string, string> = {}) {
  const form = new FormData();
  for (const [key, value] of Object.entries(fields)) form.append(key, value);
  for (const [name, data] of Object.entries(files))
    form.append("files", new Blob([new Uint8Array(data)]), name);
  const { id } = await ask("POST", "/intakes", form);
  await runQueued();
  const intake = await ask("GET", `/intakes/${id}`);
  expect(intake).toMatchObject({ state: "review", failure: null });
  return intake;
}

const accept = async (intake: string): Promise<string> =>
  (await ask("POST", `/intakes/${intake}/accept`, { all: true })).materials[0].id;

test("every call, answered well, answers as openapi.json says", async () => {
  const set = sampleSet("brick");
  const png = async (raster: Parameters<typeof encode>[0]) => Buffer.from(await encode(raster, "png"));
  const base = await png(set.base_color);

  // Intake: in one go, one by one, with files set aside, stopped.
  const intake = await takeAllIn({ "brick_basecolor.png": base, "brick_height.png": await png(set.height) });
  const brick = await accept(intake.id);
  expect((await ask("GET", "/intakes")).items[0]).toMatchObject({ id: intake.id, accepted: 1 });
  await ask("GET", `/intakes/${intake.id}/account`);

  const { id: slow } = await ask("POST", "/intakes/begin", { files: 1 });
  const { fileStore } = await import("#server/store/store");
  const { database } = await import("#server/db/database");
  const { insertFile } = await import("#server/store/sql");
  const { insertUpload } = await import("#server/intake/receiving/sql");
  const kept = await fileStore().keep(Readable.from([await picture("#5a6b7c", 64)]));
  await insertFile(database(), { ...kept, mediaType: "image/png" });
  await insertUpload(database(), slow, 0, { name: "slow_basecolor.png", sha256: kept.sha256 });
  expect((await ask("GET", `/intakes/${slow}/uploads`)).items).toHaveLength(1);
  await ask("POST", `/intakes/${slow}/complete`);
  await ask("POST", `/intakes/${slow}/hold`, { wish: "stop" });

  const large = await sharp(base).resize(3000, 3000, { kernel: "nearest" }).png().toBuffer();
  const small = await picture("#778899", 64);
  const aside = await takeAllIn(
    { "large_basecolor.png": large, "small_basecolor.png": small },
    { itemMib: "16" },
  );
  expect(aside.ignored).toHaveLength(1);
  await ask("POST", `/intakes/${aside.id}/again`, { itemMib: 2048 });

  // What files share is asked once.
  const asked = await takeAllIn({
    "asked_basecolor.png": await picture("#a07050", 64),
    "asked_kx.png": await picture("#707070", 64),
  });
  const [{ key: question }] = (await ask("GET", `/intakes/${asked.id}/questions`)).items;
  const { id: answer } = await ask("POST", `/intakes/${asked.id}/answers`, {
    ...{ question, answer: "gloss", keep: true },
  });
  expect((await ask("GET", "/answers")).items).toMatchObject([{ id: answer, files: 1 }]);
  await ask("DELETE", `/answers/${answer}`);
  const [{ id: candidate }] = asked.candidates;
  const { id: move } = await ask("POST", `/intakes/${asked.id}/moves`, {
    ...{ files: [{ candidate, file: "asked_kx.png" }], to: { own: true } },
  });
  await ask("POST", `/moves/${move}/undo`);
  await runQueued();

  // Suppliers.
  const { lines } = await ask("GET", "/catalogue");
  const line = lines.find(({ roles }: { roles: string[] }) => roles.includes("base_color"));
  const order = {
    line: line.id,
    products: [{ code: line.products[0].code, joint: line.products[0].joints[0]?.id ?? null }],
    pixels: line.pixels[0],
    roles: ["base_color"],
    type: line.types[0],
  };
  const { id: fetch } = await ask("POST", "/fetches", order);
  await ask("POST", `/intakes/${fetch}/fetch`, { wish: "stop" });

  // The library, and pictures that are alike.
  const turned = await sharp(base).rotate(90).png().toBuffer();
  const twin = await accept((await takeAllIn({ "twin_basecolor.png": turned })).id);
  const [pair] = (await ask("GET", "/likenesses")).items;
  await ask("PUT", "/likenesses", { first: pair.first, second: pair.second, decision: "variant" });
  const merging = await ask("POST", "/merges/plan", { first: brick, second: twin });
  const { id: merged } = await ask("POST", "/merges", {
    ...{ ...merging, choice: { ...merging.choice, kept: 0 } },
  });
  expect((await ask("GET", "/merges")).items).toMatchObject([{ id: merged, kept: { id: brick } }]);
  await ask("POST", `/merges/${merged}/undo`);
  const plain = (
    await ask("POST", "/materials", { name: "Bar red", layout: "plain", color: "#884433", roughness: 0.4 })
  ).id;
  const copy = (await ask("POST", "/materials", { name: "Copy of the brick", from: brick })).id;
  expect((await ask("GET", "/materials?sizeState=unknown")).total).toBe(3);
  expect((await ask("GET", `/materials/${copy}`)).madeFrom.id).toBe(brick);
  await ask("PATCH", `/materials/${brick}`, { finish: { ior: 1.6 } });
  await ask("PUT", `/materials/${brick}/corrections/gltf-2`, { roughnessScale: 0.8 });
  await ask("POST", `/materials/${brick}/restore`, { revision: 1 });
  await ask("PATCH", `/materials/${brick}/facts`, {
    supplier: "Weir Clay",
    page: "https://weir.example/bricks",
    licence: { name: "Bought, one year", price: "bought", endsOn: "2999-01-01", credit: "Weir Clay" },
  });
  expect((await ask("GET", "/licences")).items).toMatchObject([{ name: "Bought, one year" }]);
  await ask("DELETE", `/materials/${copy}`);

  // Size, judgement, mending, a region of a photograph.
  expect((await ask("GET", "/formats")).items.length).toBeGreaterThan(20);
  // Whoever accepts a few has them counted.
  await runQueued();
  expect((await ask("GET", `/materials/${brick}/modules`)).state).toBe("counted");
  const format = { name: "Long stock", kind: "brick", workSize: { width: 290, height: 40 }, joint: 8 };
  const { id: stock } = await ask("POST", "/formats", format);
  expect((await ask("GET", "/formats")).items[0]).toMatchObject({ ...format, id: stock });
  await ask("DELETE", `/formats/${stock}`);
  const sheet: { id: string; isCounting: boolean }[] = (await ask("GET", "/sizes")).items;
  expect(sheet).toContainEqual(expect.objectContaining({ id: brick, isCounting: false }));
  const tagged = { kind: "facts", materials: [brick], facts: { addTags: ["kept"] } };
  expect(await ask("POST", "/changes/plan", tagged)).toMatchObject({ total: 1 });
  const { id: change } = await ask("POST", "/changes", tagged);
  await runQueued();
  expect((await ask("GET", `/changes/${change}`)).counts.changed).toBe(1);
  await ask("POST", `/changes/${change}/undo`);
  await runQueued();
  expect((await ask("GET", "/changes")).items[0].state).toBe("undone");
  await ask("PUT", `/materials/${brick}/repeat`, { method: "size", width: 900, height: 600, keep: "both" });
  expect(await ask("POST", `/materials/${brick}/hand-on`, { materials: [twin, plain] })).toMatchObject({
    saved: 1,
    failed: [{ name: "Bar red" }],
  });
  expect(
    (await ask("GET", `/materials/${brick}/judgement?widthPx=1920`)).maps[0].holdsUpFrom,
  ).toBeGreaterThan(0);
  await (await whileQueued(studio.api("GET", `/materials/${brick}/picture?width=40`))).response.arrayBuffer();

  expect(await ask("GET", `/materials/${brick}/changes?from=1`)).toHaveProperty("values");

  // What it is judged against, and what wears it.
  const reference = await ask("POST", `/materials/${brick}/references?name=Page`, turned);
  await runQueued();
  const references = `/materials/${brick}/references`;
  expect((await ask("GET", references)).items).toMatchObject([{ id: reference.id, state: "there" }]);
  await ask("PATCH", `${references}/${reference.id}`, { neutral: { x: 0.5, y: 0.5, reflects: 18 } });
  const compared = await whileQueued(studio.api("GET", `/materials/${brick}/difference?with=reference`));
  expect(compared.json.deltaE2000).toBeGreaterThan(0);
  const spot = `x=0.5&y=0.5&reference=${reference.id}`;
  const picked = await whileQueued(studio.api("GET", `/materials/${brick}/color?${spot}`));
  expect(picked.json.color).toMatch(/^#[0-9a-f]{6}$/);
  await ask("DELETE", `${references}/${reference.id}`);
  const sought = await ask("POST", "/sought-pictures?name=Page", turned);
  await runQueued();
  expect((await ask("GET", `/sought-pictures/${sought.id}`)).state).toBe("there");
  expect(await ask("POST", "/mends", { materials: [brick], kind: "even-out" })).toMatchObject({ started: 1 });
  await runQueued();
  const [waiting] = (await ask("GET", "/mends")).items;
  expect(waiting).toMatchObject({ material: { id: brick }, failure: null });
  await ask("DELETE", `/materials/${brick}/mends/${waiting.id}`);
  const grey = await sharp(turned).greyscale().png().toBuffer();
  const scuffs = await accept((await takeAllIn({ "floor_scuffs.png": grey })).id);
  expect((await ask("GET", `/materials/${scuffs}/wearers`)).items).toEqual([]);
  expect(await ask("POST", `/materials/${scuffs}/wearers`, {})).toEqual({ saved: [], failed: [] });
  await ask("DELETE", `/materials/${scuffs}`);

  // What it is judged under, and what its surface is called.
  const { items: conditions } = await ask("GET", "/conditions");
  const north = await ask("POST", "/conditions", { name: "North window", light: conditions[0].light });
  await ask("PATCH", `/conditions/${north.id}`, { name: "North" });
  await ask("DELETE", `/conditions/${north.id}`);
  const header = "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 8 +X 16\n";
  const pixels = Array.from({ length: 128 }, () => [120, 130, 140, 130]).flat();
  const sky = Buffer.concat([Buffer.from(header, "latin1"), Buffer.from(pixels)]);
  await accept((await takeAllIn({ "harbour_sky.hdr": sky })).id);
  const [{ sha256 }] = (await ask("GET", "/environments")).items;
  await whileQueued(studio.api("GET", `/environments/${sha256}/panorama`));
  const grade = { name: "hand-rubbed", family: "stone", says: "", roughness: 0.3 };
  const { id: own } = await ask("POST", "/grades", grade);
  expect((await ask("GET", "/grades")).items.at(-1).name).toBe("hand-rubbed");
  const woods = await ask("POST", "/searches", { name: "Woods", search: { family: "timber", days: 31 } });
  expect((await ask("GET", "/searches")).items).toEqual([woods]);
  await ask("DELETE", `/searches/${woods.id}`);
  await ask("PUT", `/grades/${own}`, { ...grade, roughness: 0.4 });
  await ask("DELETE", `/grades/${own}`);
  await ask("POST", `/materials/${brick}/mends`, { kind: "even-out" });
  await runQueued();
  expect((await ask("GET", `/materials/${brick}/mends`)).items[0].state).toBe("done");
  for (const [method, answer, state] of [
    ["DELETE", "", "failed"],
    ["POST", "/keep", "done"],
  ]) {
    const { id } = await ask("POST", `/materials/${brick}/mends?look=first`, { kind: "even-out" });
    await runQueued();
    expect((await ask("GET", `/materials/${brick}/mends`)).items[0].state).toBe("waiting");
    expect((await ask(method, `/materials/${brick}/mends/${id}${answer}`)).state).toBe(state);
  }
  const corners = [30, 230, 220, 40].map((x, i) => ({ x, y: [40, 20, 240, 210][i] }));
  await ask("POST", `/materials/${twin}/flattenings`, { name: "Gable", corners, width: 3000, height: 2400 });
  await runQueued();
  expect((await ask("GET", `/materials/${twin}/flattenings`)).items[0].state).toBe("done");

  // Collections and projects.
  const collection = (await ask("POST", "/collections", { name: "Yards" })).id;
  await ask("PUT", `/collections/${collection}/materials`, { add: [brick] });
  await ask("PATCH", `/collections/${collection}`, { name: "Courtyards" });
  expect((await ask("GET", "/collections")).items).toHaveLength(1);
  const project = (await ask("POST", "/projects", { name: "Ferry landing" })).id;
  await ask("PATCH", `/projects/${project}`, { number: "26-117" });
  await ask("PUT", `/projects/${project}/collections`, { add: [collection] });
  await ask("PUT", `/projects/${project}/materials`, { add: [plain] });
  await ask("PUT", `/projects/${project}/camera`, { widthPx: 3840, angleDegrees: 60 });
  await ask("PATCH", `/materials/${brick}`, { finish: { ior: 1.5 } });
  const { revisions } = await ask("POST", `/projects/${project}/move-on`, { materials: [brick] });
  expect(revisions.every((one: { taken: number; newest: number }) => one.taken === one.newest)).toBe(true);
  await ask("POST", `/projects/${project}/move-back`, { material: brick });
  await ask("POST", `/projects/${project}/move-on`, { materials: [brick] });
  expect((await ask("GET", "/projects")).items[0].number).toBe("26-117");
  await ask("GET", `/collections/${collection}`);
  await ask("GET", `/projects/${project}`);

  // Deliveries.
  const profiles = (await ask("GET", "/profiles")).items.map(({ id }: { id: string }) => id);
  const hall = await ask("POST", "/profiles", { from: "gltf-2", name: "Viewer in the hall" });
  const { revision, shipped: _, retired: __, ...shown } = await ask("GET", `/profiles/${hall.id}`);
  await ask("PUT", `/profiles/${hall.id}`, { revision, profile: { ...shown, unit: "cm" } });
  await ask("PUT", "/profiles", { ids: [hall.id] });
  await ask("DELETE", `/profiles/${hall.id}`);
  const card = await ask("POST", "/cards", { name: "Viewer by a card" });
  await runQueued();
  await ask("POST", `/cards/${card.id}/picture`, turned);
  await runQueued();
  expect((await ask("GET", `/cards/${card.id}`)).failure).toContain("four corners");
  expect((await ask("GET", "/cards")).items).toMatchObject([{ id: card.id, number: 1 }]);
  const said = { colors: "decoded", data: "raw", normals: "up", height: "out", shine: "gloss", metal: "own" };
  const answers = {
    ...said,
    occlusion: "own",
    opacity: "alpha",
    packing: "none",
    height: "none",
    amount: "none",
  };
  await ask("POST", `/cards/${card.id}/profile`, { unit: "m", answers });
  await ask("DELETE", `/cards/${card.id}`);
  await ask("POST", `/profiles/${hall.id}/offer`);
  await ask("POST", "/destinations", { name: "Share", folder: "share" });
  const [share] = (await ask("GET", "/destinations")).items;
  const paths = [{ system: "Windows", path: "S:\\Textures" }];
  expect((await ask("PATCH", `/destinations/${share.id}`, { paths })).paths).toEqual(paths);
  await ask("POST", "/deliveries/plan", { project, profiles });
  const delivery = (await ask("POST", "/deliveries", { project, profiles, destination: "Share" })).id;
  await runQueued();
  expect((await ask("GET", `/deliveries/${delivery}`)).state).toBe("done");
  expect((await ask("GET", "/deliveries/out-of-date")).items).toEqual([]);
  expect((await ask("POST", "/deliveries/bring-up-to-date")).items).toEqual([]);
  await ask("PUT", `/projects/${project}/destinations`, { destinations: [share.id] });
  expect((await ask("GET", `/projects/${project}/destinations`)).items[0].isKept).toBe(true);
  await ask("PUT", `/projects/${project}/destinations`, { destinations: [] });
  const links = { paths: ["S:\\Textures\\none.png"] };
  expect((await ask("POST", "/links/check", links)).items).toMatchObject([{ state: "unknown" }]);
  const list = await ask("POST", "/links/lists?name=hall.txt", Buffer.from("S:\\Textures\\none.png"));
  await runQueued();
  expect(await ask("GET", `/links/lists/${list.id}`)).toMatchObject({
    state: "done",
    counts: { unknown: 1 },
  });
  expect((await ask("GET", "/links/lists")).items).toHaveLength(1);
  await ask("DELETE", `/links/lists/${list.id}`);
  await ask("POST", `/destinations/${share.id}/check`, {});
  await runQueued();
  expect((await ask("GET", `/destinations/${share.id}/check`)).state).toBe("done");
  expect((await ask("GET", `/deliveries/${delivery}/proofs`)).items.length).toBeGreaterThan(0);
  await (await studio.api("GET", `/deliveries/${delivery}/archive`)).response.arrayBuffer();
  const again = (await ask("POST", `/deliveries/${delivery}/again`)).id;
  await ask("POST", `/deliveries/${again}/cancel`);
  expect((await ask("GET", `/deliveries?project=${project}`)).items).toHaveLength(2);
  expect(
    (await ask("GET", `/materials/${brick}/uses`)).items.map(({ kind }: { kind: string }) => kind),
  ).toEqual(["collection", "project", "delivery", "delivery"]);
  expect((await ask("GET", `/materials/${brick}/revisions`)).items[0].by).toBe(studio.person.name);
  await ask("DELETE", `/collections/${collection}`);

  // People, and what a keeper looks after.
  const colors = new FormData();
  colors.append("supplier", "Tern Paints");
  colors.append("look", "true");
  colors.append("file", new Blob(["code,hex\n1,#102030\n"]), "tern.csv");
  const colorList = (await ask("POST", "/lines/import", colors)).id;
  await runQueued();
  await ask("PATCH", `/lines/imports/${colorList}`, { lineName: "Tern" });
  await runQueued();
  await ask("POST", `/lines/imports/${colorList}/make`);
  await runQueued();
  const tern = (await ask("GET", `/lines/imports/${colorList}`)).line;
  expect((await ask("GET", `/lines/${tern.id}`)).variants).toMatchObject([{ color: "#102030" }]);
  expect((await ask("GET", "/lines")).items.length).toBeGreaterThan(0);
  expect(await ask("GET", `/jobs/${colorList}`)).toMatchObject({ kind: "colors", state: "done" });
  await ask("POST", `/lines/imports/${colorList}/undo`);
  await ask("POST", "/lines/import", colors);
  await runQueued();
  const [unmade] = (await ask("GET", "/lines/imports")).items;
  await ask("DELETE", `/lines/imports/${unmade.id}`);

  const twice = await takeIn(studio, { "dune_color.png": await picture("#c0a060", 40) });
  await ask("POST", `/intakes/${twice.id}/accept`, { all: true });
  const thrice = await takeIn(studio, { "dunes_color.png": await picture("#c0a060", 40) }, "keep-both");
  const {
    materials: [dunes],
  } = await ask("POST", `/intakes/${thrice.id}/accept`, { all: true, onClash: "keep-both" });
  const sameColors = await Promise.all(
    ["One", "Two"].map(async (name) => (await ask("POST", "/collections", { name: `Same ${name}` })).id),
  );
  const anything = (await ask("GET", "/materials")).items[0].id;
  for (const id of sameColors) await ask("PUT", `/collections/${id}/materials`, { add: [anything] });
  const toTidy = await ask("GET", "/tidy?days=0");
  await ask("POST", "/tidy/twins", { first: toTidy.twins[0].first, later: toTidy.twins[0].later });
  await ask("POST", "/tidy/collections", { keep: sameColors[0] });
  await ask("POST", "/tidy/originals");
  await ask("GET", `/remakes/${(await ask("POST", "/remakes", {})).id}`);
  await runQueued();
  await ask("POST", `/remakes/${(await ask("POST", "/remakes", {})).id}/stop`);
  const old = finding("seam", { direction: "across", broken: 0.9, role: "base_color", worstPx: 3 });
  await database().query("UPDATE revisions SET findings = $2 WHERE material = $1", [
    ...[dunes.id, JSON.stringify([old])],
  ]);
  const judged = await ask("POST", "/remakes", { materials: [dunes.id], judge: true });
  await runQueued();
  await ask("POST", `/remakes/${judged.id}/undo`);
  await ask("PATCH", `/materials/${anything}/facts`, { licence: { name: "Tern terms" } });
  const [factChange] = (await ask("GET", `/materials/${anything}/facts/history`)).items;
  const terms = (await ask("GET", `/materials/${anything}`)).licence.id;
  await ask("POST", `/materials/${anything}/facts/restore`, { change: factChange.id });
  await ask("PATCH", `/licences/${terms}`, { credit: "Tern" });
  const { changes } = await ask("GET", `/licences/${terms}`);
  await ask("POST", `/licences/${terms}/restore`, { change: changes[0].id });

  const somebody = {
    name: "Ada",
    email: "ada@studio.example",
    level: "make",
    password: "long enough for us",
  };
  const ada = (await ask("POST", "/people", somebody)).id;
  await ask("PATCH", `/people/${ada}`, { level: "look" });
  expect((await ask("GET", "/people")).items).toHaveLength(2);
  const { token } = await studio.addPerson("look");
  const { beginSession } = await import("#server/auth/sessions");
  await beginSession(ada, "a browser");
  const { insertToken } = await import("#server/auth/writes");
  const { hashSecret } = await import("#server/auth/tokens");
  await insertToken(database(), { person: ada, name: "hers", hash: hashSecret("token_hers") });
  const hers = (method: string, path: string, body?: unknown) =>
    studio.api(method, path, body, { token: "token_hers" });
  const [session] = (await hers("GET", "/sessions")).json.items;
  expect((await hers("DELETE", `/sessions/${session.id}`)).status).toBe(200);
  expect((await hers("GET", "/sessions")).json.items).toEqual([]);
  expect(
    (
      await hers("PUT", "/password", {
        now: somebody.password,
        next: "another one, longer",
        keepTokens: true,
      })
    ).status,
  ).toBe(200);
  expect((await hers("GET", "/me")).json).toMatchObject({ name: "Ada", level: "look" });
  const made = (await studio.api("POST", "/tokens", { name: "night" }, { token })).json;
  await studio.api("GET", "/tokens", undefined, { token });
  await studio.api("DELETE", `/tokens/${made.id}`, undefined, { token });
  await ask("DELETE", `/people/${ada}`);
  await ask("GET", "/upkeep");
  const sweep = (await ask("POST", "/sweeps")).id;
  await runQueued();
  expect((await ask("GET", `/sweeps/${sweep}`)).state).toBe("found");
  expect(await ask("GET", `/jobs/${sweep}`)).toMatchObject({ kind: "sweep", state: "done" });
  await ask("POST", `/sweeps/${sweep}/remove`);

  const { CALLS } = await import("#server/main/calls");
  const { nameOf } = await import("#server/http/api/call");
  // The stream of events does not end, and is looked at in a test of its own.
  const all = CALLS.map(nameOf).filter((name) => name !== "GET /events");
  expect(all.filter((name) => !studio.answered.has(name))).toEqual([]);
}, 240_000);

test("an answer that is not as described does not pass", async () => {
  const { answerFits } = await import("#server/testing/answerFits");
  const json = "application/json; charset=utf-8";
  const person = { id: "1", name: "Ada", email: "ada@studio.example", level: "look" };
  expect(answerFits("GET", "/me", 200, json, person)).toBe("GET /me");
  expect(() => answerFits("GET", "/me", 200, json, { ...person, level: "all" })).toThrow(/level/);
  expect(() => answerFits("GET", "/me", 201, json, person)).toThrow(/does not say/);
  expect(() => answerFits("GET", "/me", 200, "text/html", person)).toThrow(/does not say/);
  expect(() => answerFits("GET", "/me", 404, "application/problem+json", { title: "Not found" })).toThrow(
    /detail/,
  );
});
