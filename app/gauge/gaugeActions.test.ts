import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { RouterContextProvider, type ActionFunctionArgs } from "react-router";
import { personContext } from "#server/auth/personContext";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

const NOBODY = "00000000-0000-4000-8000-000000000000";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

async function takeOne(name: string, size = 100): Promise<string> {
  const intake = await takeIn(studio, { [`${name}_basecolor.png`]: await picture("#807060", size) });
  const { json } = await studio.api("POST", `/intakes/${intake.id}/accept`, {
    all: true,
    onClash: "keep-both",
  });
  return json.materials[0].id;
}

const material = async (id: string) => (await studio.api("GET", `/materials/${id}`)).json;

/** What a form of a screen comes to: its answer, or why it was refused. */
async function submit(route: string, id: string, fields: [string, string][]) {
  const { action } = (await import(`../routes/${route}.tsx`)) as {
    action(args: ActionFunctionArgs): Promise<unknown>;
  };
  const context = new RouterContextProvider();
  context.set(personContext, (await studio.addPerson("make")).person);
  const place = route === "benchGauge" ? "" : `/${route.slice("gauge".length).toLowerCase()}`;
  const request = new Request(`http://studio.example/materials/${id}/gauge${place}`, {
    method: "POST",
    body: new URLSearchParams(fields),
  });
  const pattern = `/materials/:id/gauge${place}`;
  return action({ request, context, params: { id }, pattern } as unknown as ActionFunctionArgs);
}

const refused = (detail: RegExp, field?: string) => ({
  data: { refused: { detail: expect.stringMatching(detail), ...(field && { field }) } },
  init: { status: 422 },
});

describe("saving a size", () => {
  const size = (width: string, height: string): [string, string][] => [
    ["method", "size"],
    ["width", width],
    ["height", height],
    ["seen", "1"],
  ];

  test("that stretches the image by more than 3 % has to be meant", async () => {
    const id = await takeOne("board");
    expect(await submit("benchGauge", id, size("1000", "960"))).toMatchObject(
      refused(/more than 3 %/, "meant"),
    );
    expect((await material(id)).repeat).toBeNull();
    expect(await submit("benchGauge", id, [...size("1000", "960"), ["meant", "on"]])).toMatchObject({
      saved: 2,
    });
    expect((await material(id)).repeat).toEqual({ width: 1000, height: 960 });
  });

  test("where somebody has saved another meanwhile: both are told, nothing is saved until one is chosen", async () => {
    const id = await takeOne("plank");
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 700 });
    expect(await submit("benchGauge", id, size("1000", "1000"))).toMatchObject({
      meanwhile: {
        revision: 2,
        by: studio.person.name,
        fields: [
          { field: "width", base: undefined, theirs: 700, mine: 1000, changedBy: "both" },
          { field: "height", base: undefined, theirs: 700, mine: 1000, changedBy: "both" },
        ],
      },
    });
    expect((await material(id)).repeat.width).toBe(700);
    const copied = (await submit("benchGauge", id, [
      ...size("1000", "1000"),
      ["intent", "copy-mine"],
    ])) as Response;
    const [, , copy] = copied.headers.get("Location")!.split("/");
    expect(await material(copy)).toMatchObject({ name: "Plank, mine", repeat: { width: 1000 } });
    expect((await material(id)).repeat.width).toBe(700);
    expect(await submit("benchGauge", id, [...size("1000", "1000"), ["over", "2"]])).toMatchObject({
      saved: 3,
    });
    expect((await material(id)).repeat.width).toBe(1000);
  });

  test("where somebody has changed something else meanwhile, both are kept", async () => {
    const id = await takeOne("slat");
    await studio.api("PATCH", `/materials/${id}`, { finish: { ior: 1.7 } });
    expect(await submit("benchGauge", id, size("640", "640"))).toMatchObject({ saved: 3 });
    expect(await material(id)).toMatchObject({ repeat: { width: 640 }, finish: { ior: 1.7 } });
  });

  test("is handed on to those that are ticked", async () => {
    const [id, other] = [await takeOne("oak"), await takeOne("ash", 50)];
    const answer = await submit("benchGauge", id, [
      ...size("800", "800"),
      ["also", other],
      ["also", "no id"],
    ]);
    // A list with something else than ids in it is none.
    expect(answer).toMatchObject({ handedOn: { saved: 0, failed: [] } });
    await submit("benchGauge", id, [
      ["method", "size"],
      ["width", "800"],
      ["seen", "2"],
      ["also", other],
    ]);
    expect(await material(other)).toMatchObject({ repeat: { width: 800 }, gauge: { material: id } });
  });

  test.each<[string, [string, string][], RegExp]>([
    ["nothing typed", [["method", "modules"]], /not filled in/],
    ["no such way", [["method", "guess"]], /no way to a size/],
    ["a length that is none", size("12 q", ""), /“12 q”/],
    [
      "lines that are none",
      [
        ["method", "lines"],
        ["lines", "[1, 2]"],
      ],
      /not filled in/,
    ],
    [
      "another material that is not there",
      [
        ["method", "same-as"],
        ["material", NOBODY],
      ],
      /unknown too/,
    ],
  ])("with %s is refused in words", async (_, fields, words) => {
    const id = await takeOne("odd");
    expect(await submit("benchGauge", id, fields)).toMatchObject(refused(words));
  });
});

test("the next material without a size comes in the order of names, and begins again at the end", async () => {
  const { findNextUnsized } = await import("#server/material/queries");
  const { database } = await import("#server/db/database");
  const walk: string[] = [];
  let id = await takeOne("zz-last");
  const others = (await findNextUnsized(database(), id))!.others;
  for (let i = 0; i <= others; i++) {
    const next = (await findNextUnsized(database(), id))!;
    walk.push(next.id);
    id = next.id;
  }
  // Each of the others once, and then the one from which it began.
  expect(new Set(walk).size).toBe(others + 1);
  const sized = await material(walk[0]);
  await studio.api("PUT", `/materials/${walk[0]}/repeat`, { method: "size", width: 500 });
  expect((await findNextUnsized(database(), id))!.others).toBe(others - 1);
  expect(sized.repeat).toBeNull();
});

describe("fitting to a surface", () => {
  test("keeps what the size was before, and waits for one", async () => {
    const id = await takeOne("panel");
    const fields: [string, string][] = [
      ["width", "1010"],
      ["height", "1000"],
      ["surfaceWidth", "4040"],
      ["surfaceHeight", ""],
    ];
    expect(await submit("gaugeFit", id, [...fields, ["seen", "1"]])).toMatchObject(refused(/known first/));
    await studio.api("PUT", `/materials/${id}/repeat`, { method: "size", width: 1000, assumed: true });
    await submit("gaugeFit", id, [...fields, ["seen", "2"]]);
    expect(await material(id)).toMatchObject({
      repeat: { width: 1010, height: 1000 },
      // A guess that was fitted is still a guess.
      sizeState: "assumed",
      gauge: { method: "fitted", surface: { width: 4040 }, before: { width: 1000, height: 1000 } },
    });
  });

  test("in one direction after the other keeps what was counted, with its joints", async () => {
    const id = await takeOne("wall", 96);
    const joints = { joint: 10, jointVertical: 12 };
    await studio.api("PUT", `/materials/${id}/repeat`, {
      method: "modules",
      across: 4,
      up: 12,
      workSize: { width: 215, height: 63 },
      ...joints,
    });
    const fit = (width: string, height: string, seen: string): [string, string][] => [
      ["width", width],
      ["height", height],
      ["surfaceWidth", "4000"],
      ["seen", seen],
    ];
    await submit("gaugeFit", id, fit("910", "900", "2"));
    await submit("gaugeFit", id, fit("910", "905", "3"));
    expect((await material(id)).gauge).toMatchObject({
      method: "fitted",
      before: { width: 910, height: 900 },
      counted: { across: 4, up: 12, ...joints },
    });
    // As long as it is wide it would be far from its proportions.
    expect(await submit("gaugeFit", id, fit("4000", "905", "4"))).toMatchObject(
      refused(/stretched by/, "meant"),
    );
    expect(await submit("gaugeFit", id, [...fit("4000", "905", "4"), ["meant", "on"]])).toMatchObject({
      saved: 5,
    });
  });

  test("and starts that are out of range are refused", async () => {
    const id = await takeOne("tile");
    const start: [string, string][] = [
      ["act", "start"],
      ["right", "7"],
      ["down", "0"],
    ];
    expect(await submit("gaugeFit", id, start)).toMatchObject({ init: { status: 422 } });
  });
});

describe("turning and flattening", () => {
  test("only what is a turn is asked for", async () => {
    const id = await takeOne("deck");
    const turn = (right: string, down: string): [string, string][] => [
      ["kind", "turn"],
      ["right", right],
      ["down", down],
      ["left", "1"],
      ["below", "0"],
    ];
    expect(await submit("gaugeTurn", id, turn("0", "0"))).toMatchObject({ init: { status: 422 } });
    expect(await submit("gaugeTurn", id, turn("x", "1"))).toMatchObject({ init: { status: 422 } });
    expect(await submit("gaugeTurn", id, turn("0", "1"))).toMatchObject({ asked: expect.any(String) });
  });

  test.each(["", "{nonsense", "{}", JSON.stringify({ name: "A", corners: [] })])(
    "a region that is none (%j) is refused",
    async (recipe) => {
      const id = await takeOne("photo");
      expect(await submit("gaugeFlatten", id, [["recipe", recipe]])).toMatchObject({ init: { status: 422 } });
    },
  );
});
