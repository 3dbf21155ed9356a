import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import writeWorkbook from "write-excel-file/node";
import { runQueued } from "#server/testing/runQueued";
import { openTestStudio, type TestStudio, zipOf } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const send = (content: string | Buffer, fields: Record<string, string>, name = "colours.csv") => {
  const form = new FormData();
  for (const [field, value] of Object.entries(fields)) form.append(field, value);
  form.append("file", new Blob([new Uint8Array(Buffer.from(content))]), name);
  return studio.api("POST", "/lines/import", form);
};

/** Hands a list in, and does all that comes of it. */
async function handIn(content: string | Buffer, fields: Record<string, string>, name?: string) {
  const { status, json } = await send(content, { supplier: "Tern Paints", ...fields }, name);
  if (status !== 202) throw new Error(JSON.stringify(json));
  await runQueued();
  return studio.ask("GET", `/lines/imports/${json.id}`);
}
const colorsOf = async (line: string): Promise<Record<string, string>> => {
  const { variants } = await studio.ask("GET", `/lines/${line}`);
  return Object.fromEntries(
    variants.map(({ productCode, color }: { productCode: string; color: string }) => [productCode, color]),
  );
};
const materialOf = async (line: string, code: string) => {
  const { variants } = await studio.ask("GET", `/lines/${line}`);
  const { id } = variants.find(({ productCode }: { productCode: string }) => productCode === code);
  return studio.ask("GET", `/materials/${id}`);
};

test("a list becomes a line of plain materials; its wrong rows are told, and hold up none", async () => {
  const list = await handIn(
    "Code;Name;Hex;Glanz\r\nT 01;Kreide;#f4f1ea;matt\r\nT 02;Größe;#12;\r\nT 03;Möwe;#8d979c;25\r\n",
    { line: "Harbour" },
  );
  expect(list).toMatchObject({ state: "done", made: 2, changed: 0, line: { name: "Harbour" } });
  expect(list.errors).toEqual([
    { row: 3, code: "T 02", detail: expect.stringMatching(/“#12” is not a colour/) },
  ]);
  expect(await colorsOf(list.line.id)).toEqual({ "T 01": "#f4f1ea", "T 03": "#8d979c" });
  const gull = await materialOf(list.line.id, "T 03");
  expect(gull).toMatchObject({
    ...{ name: "Möwe", layout: "plain", line: "Harbour", family: "paint" },
    ...{ finish: { color: "#8d979c", roughness: 0.246 } },
    source: { supplier: "Tern Paints", productCode: "T 03" },
  });
  const { items } = await studio.ask("GET", "/lines");
  expect(items).toMatchObject([{ name: "Harbour", supplier: "Tern Paints", members: 2 }]);
  // By colour words and by family, as everything else is found.
  expect((await studio.ask("GET", "/materials?q=grey&family=paint")).items[0].name).toBe("Möwe");
});

test("handed in again it changes what the list changed, leaves what people changed, and can be taken back", async () => {
  const first = await handIn(
    "code,name,hex,sheen\n1,Sand,#d8c8a8,matt\n2,Fern,#4a6a48,matt\n3,Clay,#a86848,matt\n4,Ink,#202838,matt\n",
    { line: "Dunes" },
  );
  const line = first.line.id as string;
  const fern = await materialOf(line, "2");
  await studio.ask("PATCH", `/materials/${fern.id}`, { finish: { color: "#50704e" } });
  const second = await handIn(
    "code,name,hex,sheen\n1,Sand,#d9c9a9,matt\n2,Fern,#4b6b49,matt\n3,Clay,#a86848,gloss\n5,Foam,#eef2f0,matt\n",
    { line: "Dunes" },
  );
  expect(second).toMatchObject({ state: "done", made: 1, changed: 2, same: 0 });
  expect(second.kept).toEqual([
    {
      row: 3,
      code: "2",
      detail: expect.stringMatching(/colour was changed here \(#50704e; the list has #4b6b49\)/),
    },
  ]);
  expect(await colorsOf(line)).toEqual({
    ...{ "1": "#d9c9a9", "2": "#50704e", "3": "#a86848", "4": "#202838", "5": "#eef2f0" },
  });
  expect((await materialOf(line, "3")).finish.roughness).toBeCloseTo(0.122);
  const third = await handIn(
    "code,name,hex,sheen\n1,Sand,#d9c9a9,matt\n3,Clay,#a86848,gloss\n5,Foam,#eef2f0,matt\n",
    { line: "Dunes" },
  );
  expect(third).toMatchObject({ made: 0, changed: 0, same: 3 });

  // Clay is saved by somebody after: it stays. Sand goes back, and Foam goes.
  const clay = await materialOf(line, "3");
  await studio.ask("PATCH", `/materials/${clay.id}`, { finish: { roughness: 0.3 } });
  expect((await studio.api("POST", `/lines/imports/${second.id}/undo`)).status).toBe(202);
  await runQueued();
  const undone = await studio.ask("GET", `/lines/imports/${second.id}`);
  expect(undone).toMatchObject({ state: "undone", counts: { undone: 2, kept: 2 } });
  expect(await colorsOf(line)).toEqual({ "1": "#d8c8a8", "2": "#50704e", "3": "#a86848", "4": "#202838" });
  expect((await materialOf(line, "3")).finish.roughness).toBe(0.3);
  expect((await studio.api("POST", `/lines/imports/${second.id}/undo`)).status).toBe(409);
});

test("what was made and a project has taken stays when the list is taken back", async () => {
  const list = await handIn("code,hex\nA,#112233\nB,#445566\n", { line: "Kept" });
  const taken = await materialOf(list.line.id, "A");
  const project = await studio.ask("POST", "/projects", { name: "Boathouse" });
  await studio.ask("PUT", `/projects/${project.id}/materials`, { add: [taken.id] });
  await studio.ask("POST", `/lines/imports/${list.id}/undo`);
  await runQueued();
  expect((await studio.ask("GET", `/lines/imports/${list.id}`)).kept).toEqual([
    { row: 2, code: "A", detail: "The project Boathouse has it: it stays." },
  ]);
  expect(await colorsOf(list.line.id)).toEqual({ A: "#112233" });
});

test("what a second list says nothing of stays; what it says for the first time does not undo what people said", async () => {
  const first = await handIn("code,name,hex\n1,Loam,#503820\n2,Peat,#302418\n3,Silt,#8a8070\n", {
    line: "Bog",
  });
  const line = first.line.id as string;
  const peat = await materialOf(line, "2");
  await studio.ask("PATCH", `/materials/${peat.id}/facts`, { page: "https://ours.example/peat" });
  await studio.ask("PATCH", `/materials/${peat.id}`, { finish: { roughness: 0.9 } });
  // No names any more, but sheens and pages, and another family for all.
  const second = await handIn(
    "code,hex,sheen,page\n1,#503820,satin,https://tern.example/1\n2,#302418,satin,https://tern.example/2\n3,#8a8070,,\n",
    { line: "Bog", family: "plaster" },
  );
  expect(second).toMatchObject({ made: 0, changed: 3 });
  const [loam, now, silt] = await Promise.all(["1", "2", "3"].map((code) => materialOf(line, code)));
  expect(loam).toMatchObject({
    name: "Loam",
    family: "plaster",
    variant: { colour: "Loam", sheen: "satin" },
  });
  expect(loam.finish.roughness).toBeCloseTo(0.246);
  expect(loam.source.page).toBe("https://tern.example/1");
  expect(now).toMatchObject({ name: "Peat", family: "plaster", finish: { roughness: 0.9 } });
  expect(now.source.page).toBe("https://ours.example/peat");
  expect(silt).toMatchObject({ name: "Silt", family: "plaster" });
  // Whoever takes it back is who did it; what was made has no history of its making.
  const other = await studio.addPerson("make");
  await studio.api("POST", `/lines/imports/${second.id}/undo`, undefined, { token: other.token });
  await runQueued();
  const { items } = await studio.ask("GET", `/materials/${loam.id}/facts/history`);
  expect(items.map(({ madeBy }: { madeBy: string }) => madeBy)).toEqual([
    other.person.name,
    studio.person.name,
  ]);
  expect(await materialOf(line, "1")).toMatchObject({ family: "paint", source: { page: null } });
});

test("what was broken off is told, and the rest is made when asked for", async () => {
  const { readColors, failColorList, makeColors } = await import("#server/colorList/commands");
  const { id } = (await send("code,hex\nX1,#101010\nX2,#202020\n", { supplier: "Tern Paints", look: "1" }))
    .json;
  await readColors(id);
  await makeColors(id);
  await failColorList(id, "Not all of it was done: the disk is full.");
  expect(await studio.ask("GET", `/lines/imports/${id}`)).toMatchObject({
    ...{ state: "done", made: 0, counts: { waiting: 2 }, failure: expect.stringMatching(/disk is full/) },
  });
  await studio.ask("POST", `/lines/imports/${id}/make`);
  await runQueued();
  expect(await studio.ask("GET", `/lines/imports/${id}`)).toMatchObject({ made: 2, failure: null });
  expect((await studio.api("POST", `/lines/imports/${id}/make`)).status).toBe(409);
});

test("a colour whose facts somebody has changed stays when its list is taken back", async () => {
  const list = await handIn("code,name,hex\n1,Wrack,#203028\n2,Kelp,#404820\n", { line: "Shore" });
  const wrack = await materialOf(list.line.id, "1");
  await studio.ask("PATCH", `/materials/${wrack.id}/facts`, { tags: ["lido"] });
  await studio.ask("POST", `/lines/imports/${list.id}/undo`);
  await runQueued();
  expect(await colorsOf(list.line.id)).toEqual({ "1": "#203028" });
});

describe("looked at before", () => {
  test("nothing is made until somebody says so; columns and white are corrected, and it is read again", async () => {
    const made = (
      await send("Farbe;Wert;x;y;Y\nA1;#ffffff;0,3457;0,3585;100\n", {
        ...{ supplier: "Tern Paints", line: "Looked", look: "true" },
      })
    ).json;
    await runQueued();
    const read = await studio.ask("GET", `/lines/imports/${made.id}`);
    expect(read).toMatchObject({
      state: "read",
      line: null,
      lacking: expect.stringMatching(/column with a code/),
    });
    expect((await studio.api("POST", `/lines/imports/${made.id}/make`)).json.detail).toMatch(
      /column with a code/,
    );
    const wish = { columns: { code: 0, chromaX: 2, chromaY: 3, luminance: 4 }, white: "D50" };
    await studio.ask("PATCH", `/lines/imports/${made.id}`, { wish });
    await runQueued();
    expect(await studio.ask("GET", `/lines/imports/${made.id}`)).toMatchObject({
      ...{ state: "read", lacking: null, white: "D50", whiteFrom: "said" },
    });
    await studio.ask("POST", `/lines/imports/${made.id}/make`);
    await runQueued();
    const done = await studio.ask("GET", `/lines/imports/${made.id}`);
    expect(await colorsOf(done.line.id)).toEqual({ A1: "#ffffff" });
    expect((await studio.api("PATCH", `/lines/imports/${made.id}`, { lineName: "x" })).status).toBe(409);
    expect((await studio.api("DELETE", `/lines/imports/${made.id}`)).status).toBe(409);
  });

  test("one that made nothing is deleted", async () => {
    const { id } = (await send("code,hex\n1,#ffffff\n", { supplier: "Tern Paints", look: "true" })).json;
    await runQueued();
    expect(await studio.ask("GET", "/lines/imports")).toMatchObject({
      items: expect.arrayContaining([expect.objectContaining({ id })]),
    });
    await studio.ask("DELETE", `/lines/imports/${id}`);
    expect((await studio.api("GET", `/lines/imports/${id}`)).status).toBe(404);
  });
});

describe("what comes", () => {
  test("a workbook is read by the sheet that holds colours", async () => {
    const cells = (...values: (string | number)[]) => values.map((value) => ({ value }));
    const workbook = await writeWorkbook([
      { sheet: "Cover", data: [cells("Colours of the year"), cells("Tern Paints"), cells(2026), cells("A")] },
      {
        sheet: "Colours",
        data: [
          cells("No.", "Name", "L*", "a*", "b*", "Gloss"),
          cells("W1", "White", 100, 0, 0, 4),
          cells("G1", "Grey", 53.585, 0, 0, 40),
        ],
      },
    ]).toBuffer();
    const list = await handIn(workbook, { line: "Book" }, "colours.xlsx");
    expect(list).toMatchObject({ state: "done", made: 2, whiteFrom: "assumed" });
    expect(await colorsOf(list.line.id)).toEqual({ W1: "#ffffff", G1: "#808080" });
  });

  test("Latin-1 with semicolons, and UTF-16 with tabs", async () => {
    const latin = await handIn(Buffer.from("Farbnummer;Bezeichnung;Hex\n7;Grün;#00ff00\n", "latin1"), {
      line: "Latin",
    });
    expect((await materialOf(latin.line.id, "7")).name).toBe("Grün");
    const wide = Buffer.concat([
      Buffer.from([0xff, 0xfe]),
      Buffer.from("code\tname\thex\n8\tŽlutá\t#ffff00\n", "utf16le"),
    ]);
    expect((await materialOf((await handIn(wide, { line: "Wide" })).line.id, "8")).name).toBe("Žlutá");
  });

  test.each<[string, () => Promise<Buffer>, RegExp]>([
    [
      "200,000 rows",
      async () => Buffer.from(`code,hex\n${"1,#ffffff\n".repeat(200_000)}`),
      /more than 20,000 rows/,
    ],
    ["nothing", async () => Buffer.from("\n\n"), /There is nothing in it/],
    ["a picture", async () => Buffer.from([0x89, 0x50, 0x4e, 0x47, 0, 1, 2]), /no text.*CSV/],
    ["an old workbook", async () => Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0, 0]), /old format/],
    ["a zip of other things", () => zipOf({ "a.txt": "hello" }), /no Excel workbook/],
    ["a broken workbook", () => zipOf({ "xl/workbook.xml": "<workbook", "xl/sheet.xml": "<" }), /damaged/],
    ["a bomb", () => zipOf({ "xl/workbook.xml": Buffer.alloc(90 * 2 ** 20) }), /times its size/],
    ["no colours", async () => Buffer.from("one,two\nthree,four\n"), /No column with a colour/],
  ])("%s is refused in words", async (_, content, reason) => {
    const list = await handIn(await content(), { line: "Refused" });
    expect(list).toMatchObject({ state: "failed", failure: expect.stringMatching(reason), made: 0 });
  });

  test("what a form lacks is told by its field", async () => {
    expect((await send("a,b", {})).json).toMatchObject({ status: 422, pointer: "/supplier" });
    expect((await send("a,b", { supplier: "T", columns: "{" })).status).toBe(422);
    expect((await send("a,b", { supplier: "T", columns: '{"wings": 1}' })).json.pointer).toMatch(
      /^\/columns/,
    );
    expect((await send("a,b", { supplier: "T", white: "D93" })).json.pointer).toBe("/white");
    const looker = await studio.addPerson("look");
    const asked = await studio.api("POST", "/lines/import", new FormData(), { token: looker.token });
    expect(asked.status).toBe(403);
  });
});

test("two who hand in one list at the same time make one line of it", async () => {
  const text = `code,hex\n${Array.from({ length: 90 }, (_, i) => `S${i},#${(i * 1000 + 4096).toString(16).padStart(6, "0")}`).join("\n")}\n`;
  const { readColors } = await import("#server/colorList/commands");
  const { runColors } = await import("#server/colorList/making");
  const ids: string[] = await Promise.all(
    [1, 2].map(async () => (await send(text, { supplier: "Tern Paints", line: "Twice" })).json.id as string),
  );
  await Promise.all(ids.map(readColors));
  await Promise.all(ids.map(runColors));
  const lists = await Promise.all(ids.map((id) => studio.ask("GET", `/lines/imports/${id}`)));
  expect(lists.map(({ state }) => state)).toEqual(["done", "done"]);
  expect(lists[0].made + lists[1].made).toBe(90);
  expect(lists[0].same + lists[1].same).toBe(90);
  expect(Object.keys(await colorsOf(lists[0].line.id))).toHaveLength(90);
});

test("another variant takes the places of one, and gives them back", async () => {
  const list = await handIn("code,name,hex\n1,Rust,#803020\n2,Moss,#405030\n", { line: "Swapped" });
  const [rust, moss] = [await materialOf(list.line.id, "1"), await materialOf(list.line.id, "2")];
  const project = await studio.ask("POST", "/projects", { name: "Ferry terminal" });
  await studio.ask("PUT", `/projects/${project.id}/materials`, { add: [rust.id] });
  const collection = await studio.ask("POST", "/collections", { name: "Doors" });
  await studio.ask("PUT", `/collections/${collection.id}/materials`, { add: [rust.id, moss.id] });
  const asked = { kind: "swap", materials: [rust.id], to: moss.id };
  const plan = await studio.ask("POST", "/changes/plan", asked);
  expect(plan.items[0].said).toEqual([
    { name: "Ferry terminal", before: "Rust", after: "Moss" },
    { name: "Doors", before: "Rust", after: "Moss" },
  ]);
  const change = await studio.ask("POST", "/changes", asked);
  await runQueued();
  const names = async () => [
    (await studio.ask("GET", `/lines/${list.line.id}`)).variants.map(
      ({ name, projects, collections }: Record<string, string>) => [name, projects, collections],
    ),
  ];
  expect(await names()).toEqual([
    [
      ["Moss", ["Ferry terminal"], ["Doors"]],
      ["Rust", [], []],
    ],
  ]);
  await studio.ask("POST", `/changes/${change.id}/undo`);
  await runQueued();
  expect(await names()).toEqual([
    [
      ["Moss", [], ["Doors"]],
      ["Rust", ["Ferry terminal"], ["Doors"]],
    ],
  ]);
  expect((await studio.api("POST", "/changes", { ...asked, to: rust.id })).status).toBe(422);
});
