import { readdir } from "node:fs/promises";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, jest, test } from "@jest/globals";
import sharp from "sharp";
import { openTestStudio, picture, takeIn, zipOf, type TestStudio } from "#server/testing/testStudio";

/** Files that mean harm, or were harmed: each is told of, and none stops another. */
let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

type Reasons = Record<string, string>;
async function hand(files: Record<string, Buffer | string>, options: Record<string, string> = {}) {
  const intake = await takeIn(
    studio,
    { ...files, "fine.png": await picture("#447766", 64) },
    undefined,
    options,
  );
  expect(intake).toMatchObject({ state: "review", failure: null });
  const reasons: Reasons = Object.fromEntries(
    intake.ignored.map(({ file, reason }: { file: string; reason: string }) => [file, reason]),
  );
  const names: string[] = intake.candidates.map(({ name }: { name: string }) => name);
  expect(names).toContain("Fine");
  // No word of a library, and no place on the server.
  for (const text of [
    ...Object.values(reasons),
    ...JSON.stringify(intake.candidates).matchAll(/"message":"[^"]*"/g),
  ].map(String))
    expect(text).not.toMatch(
      /vips|Vips|Error:|undefined|ENOENT|\/tmp|Maximum call stack|Unexpected token|invalid byte/,
    );
  return { intake, reasons, names };
}

const glb = (json: object) => {
  const text = Buffer.from(JSON.stringify(json));
  const padded = Buffer.concat([text, Buffer.alloc((4 - (text.length % 4)) % 4, 0x20)]);
  const head = Buffer.alloc(20);
  head.write("glTF", "latin1");
  head.writeUInt32LE(2, 4);
  head.writeUInt32LE(20 + padded.length, 8);
  head.writeUInt32LE(padded.length, 12);
  head.write("JSON", 16, "latin1");
  return Buffer.concat([head, padded]);
};

describe("texts from outside", () => {
  test("names of 9,000 characters, with NUL and marks that turn the direction, are names like others", async () => {
    const long = `${"n".repeat(9000)}_basecolor.png`;
    const zip = await zipOf({
      [long]: await picture("#112233", 32),
      "nul_xx_basecolor.png": await picture("#223344", 32),
    });
    for (let at = zip.indexOf("nul_xx"); at >= 0; at = zip.indexOf("nul_xx"))
      zip.write("nul\0\0_", at, "latin1");
    const { names, intake } = await hand({
      "names.zip": zip,
      "e\u202Evil_basecolor.png": await picture("#334455"),
    });
    expect(names).toHaveLength(4);
    expect(JSON.stringify(intake)).not.toMatch(/\\u0000|\u202E/);
  });

  test("names in models and words of licences, as well", async () => {
    const image = (await picture("#556677", 32)).toString("base64");
    const { names, intake } = await hand({
      "chair.glb": glb({
        asset: { version: "2.0" },
        images: [{ name: "pic\u0000ture", uri: `data:image/png;base64,${image}` }],
        textures: [{ source: 0 }],
        materials: [
          { name: `Wood\u0000${"y".repeat(5000)}`, pbrMetallicRoughness: { baseColorTexture: { index: 0 } } },
        ],
      }),
      "wall.obj": "mtllib wall.mtl\nusemtl a\n",
      "wall.mtl": "newmtl Stone\u0000wall\nmap_Kd stone.png\n",
      "stone.png": await picture("#667788", 32),
      "licence.txt": "This is licensed under CC\u0000 BY-SA 4.0 \u0000by Somebody\u0000.\u0007",
    });
    expect(names).toContainEqual(expect.stringMatching(/^Woodyyy/));
    expect(names).toContain("Stonewall");
    expect(JSON.stringify(intake)).not.toContain("\\u0000");
  });
});

test("texts of a product sheet that PostgreSQL does not take are taken without what it minds", async () => {
  const sheet = {
    sheet: 1,
    supplier: { name: "Kiln\u0000field", page: "https://kilnfield.example/" },
    line: {
      ...{
        name: "Har\u0000bour\u202e",
        family: "brick",
        text: "Words\u0000.",
        page: "https://kilnfield.example/l",
      },
      ...{
        layout: "plain",
        licence: { name: "Fr\u0000ee", price: "free", credit: null },
        properties: { grade: null, use: [], frost: null, slip: null, fire: null, thicknessMm: null },
      },
      ...{ workSize: null, jointMm: null, coverSize: null, picture: null },
    },
    products: [
      ...[
        {
          code: "A-1",
          name: "Re\u0000d",
          variant: { "co\u0000lour": "re\u0000d" },
          color: "#aa3322",
          sheen: 10,
        },
      ].map((one) => ({
        ...one,
        heightAmplitudeMm: null,
        files: [],
      })),
    ],
  };
  const { names, intake } = await hand({
    "set.zip": await zipOf({ "product-sheet.json": JSON.stringify(sheet) }),
  });
  expect(names).toContain("Red");
  expect(JSON.stringify(intake)).not.toContain("\\u0000");
  const { status } = await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  expect(status).toBe(200);
});

test("a set that cannot be judged is set aside, and the others are not", async () => {
  const { pool } = await import("#server/pool/pool");
  const plan = pool.plan;
  const spy = jest.spyOn(pool, "plan").mockImplementation((task, limits) => {
    if (task.group[0].image.file.startsWith("bad")) throw new TypeError("x is not a function");
    return plan(task, limits);
  });
  const { reasons, names } = await hand({ "bad_basecolor.png": await picture("#778899", 32) });
  spy.mockRestore();
  expect(names).toEqual(["Fine"]);
  expect(reasons["bad_basecolor.png"]).toContain("damaged, or of a kind that cannot be read");
});

describe("damage", () => {
  test("a zip whose entry inflates to more than it says is set aside, twice over, and the worker's process lives", async () => {
    const zip = await zipOf({ "more_basecolor.png": "x".repeat(400) });
    for (let at = zip.indexOf("PK\x01\x02", 0, "latin1"); at >= 0; at = -1) zip.writeUInt32LE(392, at + 24);
    for (const name of ["once.zip", "twice.zip"]) {
      const { reasons } = await hand({ [name]: zip });
      expect(reasons[`${name}/more_basecolor.png`]).toContain("damaged inside the zip");
    }
    expect(await readdir(join(studio.folder, "incoming"))).toEqual([]);
  });

  test("a JPEG with damaged data and a proper end is read, and said to be damaged", async () => {
    const noise = { type: "gaussian" as const, mean: 128, sigma: 50 };
    const jpeg = await sharp({ create: { width: 256, height: 256, channels: 3, background: "#000", noise } })
      .jpeg()
      .toBuffer();
    // A marker that does not belong there, in the middle of the data.
    jpeg.set([0xff, 0xd3, 0xff, 0xd5], Math.round(jpeg.length / 2));
    const { intake } = await hand({ "torn_basecolor.jpg": jpeg });
    const torn = intake.candidates.find(({ name }: { name: string }) => name === "Torn");
    expect(torn.findings).toContainEqual(expect.objectContaining({ code: "damaged", level: "wrong" }));
    const fine = await hand({
      "whole_basecolor.jpg": await sharp(await picture("#884422", 64))
        .jpeg()
        .toBuffer(),
    });
    expect(JSON.stringify(fine.intake.candidates)).not.toContain('"damaged"');
  });

  test("a few hundred bytes that say 16000 × 16000 px are set aside", async () => {
    const tga = Buffer.alloc(672);
    tga.writeUInt8(10, 2);
    tga.writeUInt16LE(16000, 12);
    tga.writeUInt16LE(16000, 14);
    tga.writeUInt8(24, 16);
    const png = await picture("#123456", 16);
    png.writeUInt32BE(16000, 16);
    png.writeUInt32BE(16000, 20);
    const { reasons } = await hand({ "huge.tga": tga, "huge.png": png });
    expect(reasons["huge.tga"]).toMatch(/16000 × 16000 px, but has 672 bytes|damaged/);
    expect(reasons["huge.png"]).toMatch(/16000 × 16000|damaged/);
  });
});

describe("more than one file may have", () => {
  test("memory is counted before any of it is allocated", async () => {
    const large = await sharp(await picture("#335577", 2000))
      .toColourspace("rgb16")
      .png()
      .toBuffer();
    const { reasons } = await hand({ "large.png": large }, { itemMib: "16" });
    expect(reasons["large.png"]).toMatch(/need about \d+ MiB of memory; the limit for one file is 16 MiB/);
  });

  test("time and memory of a model, which nobody else waits for", async () => {
    const { reasons } = await hand(
      {
        "spaces.usda": `#usda 1.0\n${" ".repeat(400_000)}`,
        "many.obj": "mtllib many.mtl\n".repeat(5000),
        "many.mtl": "newmtl a\nmap_Kd a.png\n".repeat(4000),
        "deep.mtlx": `<materialx>${"<a>".repeat(60_000)}`,
        "deep.gltf": `{"asset":{"version":"2.0"},"extras":${"[".repeat(100_000)}`,
      },
      { itemMib: "256", itemSeconds: "20" },
    );
    expect(Object.keys(reasons).sort()).toEqual(
      expect.arrayContaining(["deep.gltf", "deep.mtlx", "many.obj", "spaces.usda"]),
    );
  }, 120_000);
});
