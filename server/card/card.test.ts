import { readFile } from "node:fs/promises";
import { unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { CARD_FILES, CARD_LAYOUT } from "#core/card/layout";
import { paintCard } from "#core/card/paintCard";
import { drawnPicture } from "#core/card/testing/drawnPicture";
import { database } from "#server/db/database";
import { folderStore } from "#server/store/folderStore";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function made(name: string) {
  const { status, json } = await studio.api("POST", "/cards", { name });
  expect([status, json.state]).toEqual([202, "making"]);
  await runQueued();
  return (await studio.api("GET", `/cards/${json.id}`)).json;
}

/** As a renderer of hidden conventions hands it in. */
const drawn = (number: number, seed = 118) => {
  const { picture, truth } = drawnPicture("other", seed, { side: 500, readers: "all", number });
  const { width, height, data } = picture;
  const jpeg = sharp(data, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: 85 })
    .toBuffer();
  return { jpeg, truth };
};

const handIn = async (id: string, bytes: Buffer) => {
  const answer = await studio.api("POST", `/cards/${id}/picture`, bytes);
  await runQueued();
  return answer;
};

const kept = (sha256: string) => readFile(folderStore(studio.folder).path(sha256));

const codes = (raster: ReturnType<typeof paintCard>) => Buffer.from(raster.data.buffer);

describe("a test card", () => {
  let card: { id: string; number: number; files: string };
  beforeAll(async () => (card = await made("  Hall renderer ")));

  test("is painted as a zip: an image for each input, and a page that says which", async () => {
    expect(card).toMatchObject({ name: "Hall renderer", state: "waiting", number: 1 });
    const files = unzipSync(await kept(card.files));
    const names = CARD_FILES.map((file) => `card-0001_${file}.png`);
    expect(Object.keys(files).sort()).toEqual([...names, "read-me.txt"].sort());
    const page = Buffer.from(files["read-me.txt"]).toString();
    for (const name of names) expect(page).toContain(name);
    // Pixels as they were painted: the colours of what is clear as well, and 16 bits of the height.
    const { data } = await sharp(files["card-0001_color.png"]).raw().toBuffer({ resolveWithObject: true });
    expect(data.equals(codes(paintCard("color", 1)))).toBe(true);
    expect((await sharp(files["card-0001_height.png"]).metadata()).depth).toBe("ushort");
  });

  test("is read in the picture that comes back, and makes the profile of its renderer", async () => {
    const { jpeg, truth } = drawn(card.number);
    expect((await handIn(card.id, await jpeg)).json).toMatchObject({ state: "reading", reading: null });
    const { json: read } = await studio.api("GET", `/cards/${card.id}`);
    expect(read.state).toBe("read");
    const said = Object.entries(read.reading.answers as Record<string, { value: string; isSure: boolean }>);
    expect(Object.fromEntries(said.map(([question, { value }]) => [question, value]))).toEqual(truth);
    expect(await sharp(await kept(read.flat)).metadata()).toMatchObject({ format: "png", width: 720 });

    const { status, json } = await studio.api("POST", `/cards/${card.id}/profile`, { unit: "m" });
    expect([status, json.id]).toEqual([201, "hall-renderer"]);
    const { json: profile } = await studio.api("GET", `/profiles/${json.id}`);
    expect(profile).toMatchObject({ name: "Hall renderer", unit: "m", shipped: false, revision: 1 });
    expect(profile.outputs.find((one: { kind: string }) => one.kind === "packed").channels).toEqual([
      "ambient_occlusion",
      "base_metalness",
      "specular_roughness",
    ]);
    expect((await studio.api("GET", `/cards/${card.id}`)).json.profile).toBe("hall-renderer");
    // Once more would be of one name.
    expect((await studio.api("POST", `/cards/${card.id}/profile`, { unit: "m" })).json).toMatchObject({
      status: 422,
      pointer: "/name",
    });
  });

  test("what somebody says goes before what was read; it has to be one of the answers, and to agree", async () => {
    const profile = (body: object, of = card.id) =>
      studio.api("POST", `/cards/${of}/profile`, { unit: "cm", ...body });
    const { json: unread } = await studio.api("POST", "/cards", { name: "Unread" });
    expect((await profile({}, unread.id)).json).toMatchObject({ status: 422, pointer: "/answers/colors" });
    const refused = async (answers: object) => (await profile({ answers })).json;
    expect(await refused({ shine: "both" })).toMatchObject({ status: 422, pointer: "/answers/shine" });
    expect(await refused({ packing: "none" })).toMatchObject({ status: 422, pointer: "/answers/occlusion" });
    expect(await refused({ metal: "own" })).toMatchObject({ status: 422, pointer: "/answers/metal" });
    expect(await refused({ shine: "none" })).toMatchObject({ status: 422, pointer: "/answers/shine" });
    const answers = { normals: "down", packing: "none", occlusion: "none", metal: "own", shine: "gloss" };
    const { status, json } = await profile({ name: "Otherwise", answers });
    expect(status).toBe(201);
    expect((await studio.api("GET", `/profiles/${json.id}`)).json).toMatchObject({
      name: "Otherwise",
      normalDirection: "-Y",
    });
  });
});

describe("a picture that is handed in for a card", () => {
  let card: { id: string; number: number };
  beforeAll(async () => (card = await made("Numbered")));

  test("of another card is refused by the numbers; a better one takes its place", async () => {
    const { jpeg: other } = drawn(4000);
    await handIn(card.id, await other);
    const { json: failed } = await studio.api("GET", `/cards/${card.id}`);
    expect(failed).toMatchObject({ state: "failed", reading: null });
    expect(failed.failure).toContain(`shows test card 4000, and this is card ${card.number}`);
    const { jpeg } = drawn(card.number);
    await handIn(card.id, await jpeg);
    expect((await studio.api("GET", `/cards/${card.id}`)).json).toMatchObject({
      state: "read",
      failure: null,
    });
  });

  const grey = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 4, background: { r: 128, g: 128, b: 128, alpha: 0.5 } } });
  test.each([
    ["no picture", () => Promise.resolve(Buffer.from("<svg onload=alert(1)>")), "no image of a format"],
    ["half a picture", async () => (await drawn(1).jpeg).subarray(0, 3000), ""],
    ["without a card", () => grey(900, 700).png().toBuffer(), "no marks"],
    ["of one pixel", () => grey(1, 1).png().toBuffer(), "no marks"],
    [
      "of 16 bits, overexposed",
      () => grey(64, 64).negate().linear(4, 0).toColourspace("rgb16").png().toBuffer(),
      "",
    ],
  ])("that is %s is said to be, and nothing is read", async (_, bytes, says) => {
    expect((await handIn(card.id, await bytes())).status).toBe(202);
    const { json } = await studio.api("GET", `/cards/${card.id}`);
    expect(json).toMatchObject({ state: "failed", reading: null, flat: null });
    expect(json.failure).toContain(says);
  });

  test("that comes twice at the same time is read once", async () => {
    const { jpeg } = drawn(card.number);
    const picture = await jpeg;
    await Promise.all([1, 2].map(() => studio.api("POST", `/cards/${card.id}/picture`, picture)));
    await runQueued();
    expect((await studio.api("GET", `/cards/${card.id}`)).json.state).toBe("read");
  });

  test("that could not be read says nothing of the better one that has come meanwhile", async () => {
    const { failCard } = await import("#server/card/commands");
    const [worse, better] = [await grey(20, 20).png().toBuffer(), await drawn(card.number).jpeg];
    const { json: before } = await studio.api("POST", `/cards/${card.id}/picture`, worse);
    await studio.api("POST", `/cards/${card.id}/picture`, better);
    // As the worker does that has begun with the first one.
    await failCard(card.id, "It cannot be read.", before.picture);
    await runQueued();
    expect((await studio.api("GET", `/cards/${card.id}`)).json).toMatchObject({
      state: "read",
      failure: null,
    });
  });

  test("goes with the card when that is deleted", async () => {
    expect((await studio.api("DELETE", `/cards/${card.id}`)).status).toBe(200);
    expect((await studio.api("GET", `/cards/${card.id}`)).status).toBe(404);
    expect((await studio.api("DELETE", `/cards/${card.id}`)).status).toBe(404);
  });

  test("before the card is painted, empty, or for none, is refused; looking is not making", async () => {
    const { json: early } = await studio.api("POST", "/cards", { name: "Early" });
    const bytes = await grey(8, 8).png().toBuffer();
    expect((await studio.api("POST", `/cards/${early.id}/picture`, bytes)).status).toBe(409);
    await runQueued();
    expect((await studio.api("POST", `/cards/${early.id}/picture`, Buffer.alloc(0))).status).toBe(400);
    expect((await studio.api("POST", `/cards/${crypto.randomUUID()}/picture`, bytes)).status).toBe(404);
    expect((await studio.api("POST", "/cards", { name: " " })).status).toBe(422);
    expect((await studio.api("POST", "/cards", { name: "x" }, { token: "nobody" })).status).toBe(401);
    expect((await studio.api("GET", `/cards/${early.id}`)).json.state).toBe("waiting");
  });

  test("of a card that was painted when patches lay elsewhere is refused, and it is said why", async () => {
    const earlier = await made("Earlier");
    await database().query("UPDATE test_cards SET layout = 1 WHERE id = $1", [earlier.id]);
    const { status, json } = await studio.api("POST", `/cards/${earlier.id}/picture`, Buffer.alloc(8));
    expect([status, json.detail]).toEqual([409, expect.stringContaining("Make another card")]);
    expect((await studio.api("GET", `/cards/${earlier.id}`)).json).toMatchObject({
      state: "waiting",
      layout: 1,
      picture: null,
    });
  });

  test("before an update is not read after it by another layout; a card that was only asked for is painted by the new one", async () => {
    const handed = await made("Handed in");
    await studio.api("POST", `/cards/${handed.id}/picture`, await drawn(handed.number).jpeg);
    const { json: asked } = await studio.api("POST", "/cards", { name: "Asked for" });
    await database().query("UPDATE test_cards SET layout = 1 WHERE id = ANY($1)", [[handed.id, asked.id]]);
    await runQueued();
    expect((await studio.api("GET", `/cards/${handed.id}`)).json).toMatchObject({
      ...{ state: "failed", reading: null, flat: null },
      failure: expect.stringContaining("Make another card"),
    });
    expect((await studio.api("GET", `/cards/${asked.id}`)).json).toMatchObject({
      ...{ state: "waiting", layout: CARD_LAYOUT },
    });
  });

  test("or two cards at the same time never share a number", async () => {
    const [a, b] = await Promise.all(["Twin", "Twin"].map((name) => studio.api("POST", "/cards", { name })));
    expect(a.json.number).not.toBe(b.json.number);
  });
});
