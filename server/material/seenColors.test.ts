import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import sharp from "sharp";
import { COLOR_WORDS } from "#core/library/colorWords";
import { sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { openTestStudio, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let wall: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const intake = await takeIn(studio, {
    "wall_basecolor.png": Buffer.from(await encode(sampleSet("brick").base_color, "png")),
  });
  wall = (await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true })).json.materials[0].id;
});
afterAll(() => studio.close());

const valueOf = async (id: string): Promise<number | null> =>
  (await studio.api("GET", `/materials/${id}`)).json.lightReflectance;
const plain = async (name: string, color: string): Promise<string> =>
  (await studio.api("POST", "/materials", { name, layout: "plain", color })).json.id;

/** Stripes of colours, as many rows of pixels of each as it says. */
const stripes = (colors: [color: string, rows: number][]): Promise<Buffer> => {
  const tops = colors.map((_, at) => colors.slice(0, at).reduce((sum, [, rows]) => sum + rows, 0));
  return sharp({ create: { width: 64, height: 64, channels: 3, background: "#000000" } })
    .composite(
      colors.map(([background, height], at) => ({
        input: { create: { width: 64, height, channels: 3 as const, background } },
        ...{ left: 0, top: tops[at] },
      })),
    )
    .png()
    .toBuffer();
};

test("is known of what came in and of a plain colour, and follows the finish", async () => {
  const before = (await valueOf(wall))!;
  expect(before).toBeGreaterThan(5);
  expect(before).toBeLessThan(40);
  await studio.api("PATCH", `/materials/${wall}`, { finish: { brightnessStops: -1 } });
  expect((await valueOf(wall))! / before).toBeCloseTo(0.5, 1);
  expect(await valueOf(await plain("Chalk", "#ffffff"))).toBeCloseTo(100, 4);
  const glass = await plain("Pane", "#ffffff");
  await studio.api("PATCH", `/materials/${glass}`, { finish: { transmissionWeight: 1 } });
  expect(await valueOf(glass)).toBeNull();
});

test("finds materials that lie between two values", async () => {
  await plain("Midnight", "#101010");
  await plain("Pewter", "#808080");
  const names = async (query: string) =>
    (await studio.api("GET", `/materials?${query}`)).json.items.map(({ name }: { name: string }) => name);
  expect(await names("reflectsFrom=15&reflectsTo=30")).toEqual(["Pewter"]);
  expect(await names("reflectsTo=2")).toEqual(["Midnight"]);
  expect(await names("reflectsFrom=90")).toEqual(["Chalk"]);
  expect((await studio.api("GET", "/materials?reflectsFrom=pale")).status).toBe(422);
});

test("is read later of what was saved before anybody could say it", async () => {
  const { database } = await import("#server/db/database");
  const { askToSeeColors, seeMissingColors, seeNextColors } = await import("#server/material/seenColors");
  const { askToReadAnew, readAnew } = await import("#server/images/readAnew");
  const known = await valueOf(wall);
  const db = database();
  await db.query("DELETE FROM picture_colors");
  await db.query("UPDATE revisions SET light_reflectance = NULL, color_terms = NULL WHERE material = $1", [
    wall,
  ]);
  expect(await valueOf(wall)).toBeNull();
  await askToReadAnew(db);
  const asked = await db.query("SELECT FROM graphile_worker.jobs WHERE task_identifier = 'read-anew'");
  expect(asked.rowCount).toBe(1);
  await readAnew("");
  expect(await seeMissingColors(db)).toBe(1);
  expect(await valueOf(wall)).toBeCloseTo(known!, 4);
  expect(await seeMissingColors(db)).toBe(0);
  // The same where pictures were read long ago, as after an update.
  await db.query("UPDATE revisions SET light_reflectance = NULL, color_terms = NULL");
  await askToSeeColors(db);
  const jobs = await db.query("SELECT FROM graphile_worker.jobs WHERE task_identifier = 'see-colors'");
  expect(jobs.rowCount).toBe(1);
  await seeNextColors("0");
  expect(await valueOf(wall)).toBeCloseTo(known!, 4);
  await db.query("DELETE FROM graphile_worker._private_jobs");
  await askToSeeColors(db);
  expect(
    (await db.query("SELECT FROM graphile_worker.jobs WHERE task_identifier = 'see-colors'")).rowCount,
  ).toBe(0);
});

describe("what is found by words", () => {
  const found = async (q: string, more = "") => {
    const { json } = await studio.api("GET", `/materials?q=${encodeURIComponent(q)}${more}`);
    return { names: json.items.map(({ name }: { name: string }) => name) as string[], ...json };
  };
  beforeAll(async () => {
    await plain("Fjordgrön", "#3f7a3a");
    await plain("Linden", "#d2d6da");
    await plain("Hazel", "#6b4226");
    await plain("Slate roofing", "#4c5054");
  });

  test("is found by its colour, of which its name says nothing, the most of it first", async () => {
    expect((await found("brown")).names).toEqual(expect.arrayContaining(["Hazel", "Wall"]));
    expect((await found("brown")).names[0]).toBe("Hazel");
    expect((await found("green")).names).toEqual(["Fjordgrön"]);
    expect((await found("pale grey")).names).toEqual(["Linden"]);
    expect((await found("grey pale")).names).toEqual(["Linden"]);
    expect((await found("dark gray")).names).toContain("Slate roofing");
    await studio.api("PATCH", `/materials/${(await found("hazel")).items[0].id}`, {
      finish: { tint: "#4060ff" },
    });
    expect((await found("brown")).names).not.toContain("Hazel");
  });

  test("stands first where it is best said: most of it in the first colour, and little of what was not said", async () => {
    const striped = async (name: string, ...colors: [color: string, share: number][]) => {
      const file = await stripes(colors);
      const { id } = await takeIn(studio, { [`${name}_basecolor.png`]: file });
      await studio.api("POST", `/intakes/${id}/accept`, { all: true });
    };
    const [blue, orange, green] = ["#2a5caa", "#e67a22", "#3f7a3a"];
    await striped("Kq1", [blue, 20], [orange, 44]);
    await striped("Kq2", [blue, 44], [orange, 20]);
    await striped("Kq3", [blue, 28], [orange, 16], [green, 20]);
    expect((await found("blue orange")).names).toEqual(["Kq2", "Kq1", "Kq3"]);
    expect((await found("orange blue")).names).toEqual(["Kq1", "Kq2", "Kq3"]);
    for (const { id } of (await found("blue orange")).items) await studio.api("DELETE", `/materials/${id}`);
  });

  test("counts each word that there is among all that a surface is called", async () => {
    const { database } = await import("#server/db/database");
    const terms = Object.fromEntries([...COLOR_WORDS, "pale", "dark grey"].map((word) => [word, 0.5]));
    const { rows } = await database().query("SELECT color_words_share($1)::float8 AS share", [
      JSON.stringify(terms),
    ]);
    expect(rows[0].share).toBeCloseTo(COLOR_WORDS.length / 2, 4);
  });

  test("is not found by a colour's name within another word, nor a pane by what it is tinted", async () => {
    await plain("Structured render", "#8e8e8c");
    await plain("Red ochre wash", "#8e8e8c");
    const glass = await plain("Green pane", "#ffffff");
    await studio.api("PATCH", `/materials/${glass}`, { finish: { transmissionWeight: 1 } });
    const red = (await found("red")).names;
    expect(red).toContain("Red ochre wash");
    expect(red).not.toContain("Structured render");
    expect((await found("structured")).names).toEqual(["Structured render"]);
    expect((await found("white")).names).not.toContain("Green pane");
    expect((await found("pane green")).names).toEqual(["Green pane"]);
    for (const name of ["Structured render", "Red ochre wash", "Green pane"]) {
      const { items } = await found(name);
      await studio.api("DELETE", `/materials/${items[0].id}`);
    }
    // What was once called so leads nowhere.
    expect((await found("strukture")).instead).toEqual([{ typed: "strukture", read: [] }]);
    expect((await found("structurde")).instead).toEqual([{ typed: "structurde", read: [] }]);
  });

  test("without accents, in any order, with one wrong letter, and that is said", async () => {
    expect((await found("fjordgron")).names).toEqual(["Fjordgrön"]);
    expect((await found("roofing slate")).names).toEqual(["Slate roofing"]);
    for (const typed of ["slatt", "slat", "slatee", "salte"]) {
      const { names, instead } = await found(typed);
      expect(names).toContain("Slate roofing");
      // What is part of a word is no mistake.
      expect(instead).toEqual(typed === "slat" ? [] : [{ typed, read: ["slate"] }]);
    }
    expect(await found("brwn")).toMatchObject({ instead: [{ typed: "brwn", read: ["brown"] }] });
    expect((await found("gren")).instead).toEqual([{ typed: "gren", read: ["green", "grey"] }]);
    expect(await found("zzzzz")).toMatchObject({ total: 0, instead: [{ typed: "zzzzz", read: [] }] });
    expect((await found("100%")).total).toBe(0);
    expect((await found(`${"x".repeat(180)} '"; --`)).total).toBe(0);
    expect((await studio.api("GET", `/materials?q=${"x".repeat(300)}`)).status).toBe(422);
  });

  test("stands in the order that is asked for", async () => {
    const sorted = async (sort: string) => (await found("", `&sort=${sort}&limit=50`)).names;
    expect((await sorted("newest"))[0]).toBe("Slate roofing");
    const colors = await sorted("color");
    expect(colors.indexOf("Chalk")).toBeLessThan(colors.indexOf("Pewter"));
    expect(colors.indexOf("Pewter")).toBeLessThan(colors.indexOf("Midnight"));
    expect(colors.indexOf("Midnight")).toBeLessThan(colors.indexOf("Fjordgrön"));
    expect((await sorted("name")).slice(0, 2)).toEqual(["Chalk", "Fjordgrön"]);
    expect((await studio.api("GET", "/materials?sort=upwards")).status).toBe(422);
  });
});
