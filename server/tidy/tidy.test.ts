import { unlink } from "node:fs/promises";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, expect, test, jest } from "@jest/globals";
import { keptPath } from "#server/store/fileStore";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const tidy = (query = "") => studio.ask("GET", `/tidy${query}`);
async function accepted(files: Record<string, Buffer>): Promise<{ intake: string; ids: string[] }> {
  const intake = await takeIn(studio, files, "keep-both");
  const { materials } = await studio.ask("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    onClash: "keep-both",
  });
  return { intake: intake.id, ids: materials.map(({ id }: { id: string }) => id) };
}
const plain = async (name: string, color: string): Promise<string> =>
  (await studio.ask("POST", "/materials", { name, layout: "plain", color })).id;

test("what was taken in twice is merged two by two, whatever it is called; a third time as well", async () => {
  const [red, blue] = [await picture("#a03020", 32), await picture("#2030a0", 32)];
  const first = await accepted({ "quay_color.png": red, "mole_color.png": blue });
  const again = await accepted({ "renamed_color.png": red, "mole2_color.png": blue });
  const third = await accepted({ "third_color.png": red });
  const { twins } = await tidy();
  expect(twins.map(({ first, later, pairs }: never) => [first, later, (pairs as unknown[]).length])).toEqual([
    [first.intake, again.intake, 2],
    [first.intake, third.intake, 1],
    [again.intake, third.intake, 1],
  ]);
  const pair = { first: first.intake, later: again.intake };
  expect(await studio.ask("POST", "/tidy/twins", pair)).toEqual({ merged: 2, failed: [] });
  const left = (await tidy()).twins;
  expect(left.map(({ first, later }: never) => [first, later])).toHaveLength(1);
  expect((await studio.api("POST", "/tidy/twins", pair)).status).toBe(404);
  expect((await studio.ask("GET", "/merges")).items).toHaveLength(2);
});

test("of collections with the same contents one is kept: projects take it, what lay inside the others lies in it", async () => {
  const [ash, elm] = [await plain("Ash", "#c0b090"), await plain("Elm", "#907050")];
  const collection = async (name: string, materials: string[], parent?: string): Promise<string> => {
    const { id } = await studio.ask("POST", "/collections", { name, parent });
    await studio.ask("PUT", `/collections/${id}/materials`, { add: materials });
    return id;
  };
  const floors = await collection("Floors", [ash, elm]);
  const ground = await collection("Ground floor", [elm, ash]);
  const inside = await collection("Entrance", [ash], ground);
  await collection("Ash alone, and more", [ash, elm, await plain("Oak", "#a08050")]);
  const project = await studio.ask("POST", "/projects", { name: "Sail loft" });
  await studio.ask("PUT", `/projects/${project.id}/collections`, { add: [ground] });
  const { collections } = await tidy();
  expect(collections).toEqual([
    {
      materials: 2,
      collections: [
        { id: floors, name: "Floors", projects: [] },
        { id: ground, name: "Ground floor", projects: ["Sail loft"] },
      ],
    },
  ]);
  expect(await studio.ask("POST", "/tidy/collections", { keep: floors })).toEqual({
    deleted: ["Ground floor"],
  });
  const kept = await studio.ask("GET", `/projects/${project.id}`);
  expect(kept.collections.map(({ id }: { id: string }) => id)).toEqual([floors]);
  const { items } = await studio.ask("GET", `/materials?project=${project.id}`);
  expect(items.map(({ id }: { id: string }) => id).sort()).toEqual([ash, elm].sort());
  const all = (await studio.ask("GET", "/collections")).items;
  expect(all.find(({ id }: { id: string }) => id === inside)).toMatchObject({ parent: floors });
  expect((await studio.api("POST", "/tidy/collections", { keep: floors })).status).toBe(409);
  const maker = await studio.addPerson("make");
  const asked = await studio.api("POST", "/tidy/collections", { keep: floors }, { token: maker.token });
  expect(asked.status).toBe(403);
});

test("a project that had it through one around it keeps what it held", async () => {
  const larch = await plain("Larch", "#b09060");
  const make = async (name: string, parent?: string): Promise<string> =>
    (await studio.ask("POST", "/collections", { name, parent })).id;
  const palette = await make("Palette");
  const [inside, beside] = [await make("Decks", palette), await make("Decks, again")];
  for (const id of [inside, beside])
    await studio.ask("PUT", `/collections/${id}/materials`, { add: [larch] });
  const project = await studio.ask("POST", "/projects", { name: "Pier house" });
  await studio.ask("PUT", `/projects/${project.id}/collections`, { add: [palette] });
  const [{ collections }] = (await tidy()).collections;
  expect(collections).toMatchObject([{ name: "Decks", projects: ["Pier house"] }, { projects: [] }]);
  await studio.ask("POST", "/tidy/collections", { keep: beside });
  const { items } = await studio.ask("GET", `/materials?project=${project.id}`);
  expect(items.map(({ id }: { id: string }) => id)).toEqual([larch]);
});

test("nobody uses what is in no collection and no project, was never delivered, and lies under nothing", async () => {
  const [alone, held] = [await plain("Alone", "#111111"), await plain("Held", "#222222")];
  const { id } = await studio.ask("POST", "/collections", { name: "Holds one" });
  await studio.ask("PUT", `/collections/${id}/materials`, { add: [held] });
  const { ids } = (await tidy("?days=0")).unused;
  expect(ids).toContain(alone);
  expect(ids).not.toContain(held);
  expect((await tidy()).unused.total).toBe(0);
  const { database } = await import("#server/db/database");
  await database().query("UPDATE materials SET created_at = now() - interval '31 days' WHERE id = $1", [
    alone,
  ]);
  expect((await tidy()).unused).toEqual({ total: 1, ids: [alone] });
});

test("licences that ended, end soon, or are for another project than has their materials", async () => {
  const day = (days: number) => new Date(Date.now() + days * 86_400_000).toISOString().slice(0, 10);
  const [own, other] = await Promise.all(
    ["Own house", "Other house"].map(async (name) => (await studio.ask("POST", "/projects", { name })).id),
  );
  const licensed = async (name: string, terms: Record<string, unknown>) => {
    const id = await plain(name, "#445566");
    await studio.ask("PATCH", `/materials/${id}/facts`, { licence: { name: `For ${name}`, ...terms } });
    return id;
  };
  await licensed("Past", { endsOn: day(-2) });
  await licensed("Soon", { endsOn: day(9) });
  await licensed("Far", { endsOn: day(90) });
  const loan = await licensed("Loan", { project: own });
  for (const project of [own, other])
    await studio.ask("PUT", `/projects/${project}/materials`, { add: [loan] });
  expect((await tidy()).licences).toMatchObject([
    { name: "For Past", why: "ended", materials: 1, projects: [] },
    { name: "For Soon", why: "ends", materials: 1 },
    { name: "For Loan", why: "others", materials: 1, projects: ["Other house"] },
  ]);
});

test("an original that is gone is found, and is back when the download is handed in again", async () => {
  const bytes = await picture("#123456", 48);
  const { ids } = await accepted({ "buoy_color.png": bytes });
  const [map] = (await studio.ask("GET", `/materials/${ids[0]}`)).maps;
  const look = async () => {
    await studio.ask("POST", "/tidy/originals");
    await runQueued();
    return tidy();
  };
  expect((await look()).gone).toEqual([]);
  await unlink(join(studio.folder, keptPath(map.sha256)));
  expect((await look()).gone).toMatchObject([
    { sha256: map.sha256, role: "base_color", material: { id: ids[0] } },
  ]);
  await takeIn(studio, { "buoy again.png": bytes });
  expect(await look()).toMatchObject({ gone: [], looked: { failure: null, doneAt: expect.any(String) } });
  // One look at a time.
  await studio.ask("POST", "/tidy/originals");
  expect((await studio.api("POST", "/tidy/originals")).status).toBe(409);
  await runQueued();
});

test("pictures are made again for some or for all; those that cannot be made are listed with their material", async () => {
  const { ids } = await accepted({
    "cove_color.png": await picture("#456123", 48),
    "reef_color.png": await picture("#654321", 48),
  });
  const maps = await Promise.all(
    ids.map(async (id) => (await studio.ask("GET", `/materials/${id}`)).maps[0].sha256 as string),
  );
  const { fileStore } = await import("#server/store/store");
  const { previewName, previewParts } = await import("#server/pixels/previews");
  const { database } = await import("#server/db/database");
  const { findImage } = await import("#server/images/queries");
  const part = previewName(maps[0], "color", previewParts((await findImage(database(), maps[0]))!)[0]);
  await fileStore().writeDerived(part, new Uint8Array([1, 2, 3]));
  const some = await studio.ask("POST", "/remakes", { materials: [ids[0]] });
  expect(some).toMatchObject({ total: 1, made: 0, doneAt: null });
  expect((await studio.api("POST", "/remakes", {})).status).toBe(409);
  await runQueued();
  expect(await studio.ask("GET", `/remakes/${some.id}`)).toMatchObject({ made: 1, failed: [] });
  expect((await fileStore().readDerived(part))!.length).toBeGreaterThan(3);

  await unlink(join(studio.folder, keptPath(maps[1])));
  const all = await studio.ask("POST", "/remakes", {});
  await runQueued();
  const done = await studio.ask("GET", `/remakes/${all.id}`);
  expect(done.made).toBe(all.total - 1);
  expect(done.failed).toEqual([
    {
      fileName: "reef_color.png",
      reason: expect.stringMatching(/cannot be read/),
      material: { id: ids[1], name: expect.stringMatching(/reef/i) },
    },
  ]);
  const colour = await plain("No picture", "#000000");
  expect((await studio.api("POST", "/remakes", { materials: [colour] })).status).toBe(422);
});

test("materials are judged again by what is read of their files now; what is set, and where it comes from, stays", async () => {
  const flat = await picture("#777777", 64);
  const packed = await sharp({ create: { width: 64, height: 64, channels: 3, background: "#f08010" } })
    .png()
    .toBuffer();
  const { ids } = await accepted({
    "spit_color.png": await picture("#334455", 64),
    "spit_roughness.png": flat,
    "spit_arm.png": packed,
  });
  const read = async () => studio.ask("GET", `/materials/${ids[0]}`);
  const fresh = await read();
  const codes = (of: { code: string }[]) => of.map(({ code }) => code).sort();
  // Two channels of one file are maps: their pictures are made again as well.
  expect(fresh.maps.map(({ channel }: { channel: string }) => channel)).toContain("red");
  // As a version would have judged it that saw other things, before somebody said where it comes from.
  const { database } = await import("#server/db/database");
  const { finding } = await import("#core/findings/finding");
  const old = [
    finding("seam", { direction: "across", broken: 0.9, role: "base_color", worstPx: 3 }, "spit_color.png"),
    finding("licence-unconfirmed", { licence: "Own", sentence: "Do as you like." }),
  ];
  await database().query("UPDATE revisions SET findings = $2 WHERE material = $1", [
    ids[0],
    JSON.stringify(old),
  ]);
  await database().query(
    `UPDATE images SET reading = jsonb_set(reading, '{seams,across,broken}', '0.97') WHERE sha256 = $1`,
    [fresh.maps.find(({ role }: { role: string }) => role === "base_color").sha256],
  );
  const { id } = await studio.ask("POST", "/remakes", { materials: [ids[0]], judge: true });
  await runQueued();
  const done = await studio.ask("GET", `/remakes/${id}`);
  expect(done).toMatchObject({ judges: true, materials: 1, judged: 1, failed: [], made: done.total });
  const [{ material, came, went }] = done.otherwise;
  expect(material).toEqual({ id: ids[0], name: fresh.name });
  expect(codes(went)).toEqual(["seam"]);
  expect(codes(came)).toEqual(codes(fresh.findings));
  const now = await read();
  expect(codes(now.findings)).toEqual([...codes(fresh.findings), "licence-unconfirmed"].sort());
  expect({ ...now, findings: [] }).toEqual({ ...fresh, findings: [] });

  // It can be put back, once, as long as nothing else is said of it.
  expect(done).toMatchObject({ mayUndo: true, undoneAt: null });
  expect(await studio.ask("POST", `/remakes/${id}/undo`)).toMatchObject({
    ...{ mayUndo: false, undoneAt: expect.any(String) },
  });
  expect((await read()).findings.map(({ code }: { code: string }) => code)).toEqual([
    "seam",
    "licence-unconfirmed",
  ]);
  const twice = await studio.api("POST", `/remakes/${id}/undo`);
  expect([twice.status, twice.json.detail]).toEqual([409, "It has been taken back already."]);
  const anew = await studio.ask("POST", "/remakes", { materials: [ids[0]], judge: true });
  expect((await studio.api("POST", `/remakes/${anew.id}/undo`)).json.detail).toMatch(/goes on still/);
  await runQueued();
  expect((await read()).findings).toEqual(now.findings);

  // What cannot be judged is left, and it is said why.
  const { pool } = await import("#server/pool/pool");
  const broken = jest.spyOn(pool, "judgeMaps").mockRejectedValue(new Error("out of memory"));
  const left = await studio.ask("POST", "/remakes", { materials: [ids[0]], judge: true });
  await runQueued();
  broken.mockRestore();
  expect(await studio.ask("GET", `/remakes/${left.id}`)).toMatchObject({
    ...{ materials: 1, judged: 0, otherwise: [] },
    notJudged: [{ material: { id: ids[0] }, reason: expect.stringContaining("cannot be read") }],
  });
  expect((await read()).findings).toEqual(now.findings);

  // Of what is judged twice the same is said.
  const again = await studio.ask("POST", "/remakes", { materials: [ids[0]], judge: true });
  await runQueued();
  expect(await studio.ask("GET", `/remakes/${again.id}`)).toMatchObject({ judged: 1, otherwise: [] });
  expect((await studio.api("POST", `/remakes/${again.id}/undo`)).json.detail).toMatch(/nothing to take back/);

  // What somebody has changed since stays.
  await studio.ask("PATCH", `/materials/${ids[0]}`, { finish: { brightnessStops: 0.2 } });
  expect((await studio.ask("POST", `/remakes/${anew.id}/undo`)).undoneAt).not.toBeNull();
  expect((await read()).findings).toEqual(now.findings);
});

test("a run is stopped where it is, and lets another one begin", async () => {
  const { ids } = await accepted({ "skerry_color.png": await picture("#445566", 48) });
  const { id } = await studio.ask("POST", "/remakes", { materials: ids, judge: true });
  const stopped = await studio.ask("POST", `/remakes/${id}/stop`);
  expect(stopped).toMatchObject({
    ...{ failure: null, stoppedBy: expect.any(String), doneAt: expect.any(String) },
  });
  await runQueued();
  expect(await studio.ask("GET", `/remakes/${id}`)).toEqual({ ...stopped, made: 0, judged: 0 });
  expect(await studio.ask("GET", `/jobs/${id}`)).toMatchObject({ kind: "remake", state: "cancelled" });
  expect((await studio.api("POST", `/remakes/${id}/stop`)).status).toBe(409);
  expect((await studio.api("POST", `/remakes/${ids[0]}/stop`)).status).toBe(404);
  const next = await studio.ask("POST", "/remakes", { materials: ids });
  await runQueued();
  expect(await studio.ask("GET", `/remakes/${next.id}`)).toMatchObject({ made: 1, stoppedBy: null });
  expect(await studio.ask("GET", `/jobs/${next.id}`)).toMatchObject({
    ...{ kind: "remake", state: "done", result: `/remakes/${next.id}` },
    progress: { done: 1, total: 1, what: "Making pictures" },
  });
});
