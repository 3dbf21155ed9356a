import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { expectAccessible, settled, signIn, test } from "./studio";

/** What is asked once, what belongs together, and what is one: in an intake, and in the library. */
test.describe.configure({ mode: "serial" });

let page: Page;
/** Letters alone: a mark is a word. */
const stamp = [...Date.now().toString()].map((digit) => "abcdefghij"[Number(digit)]).join("");
const mark = `q${stamp}`;

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

let shade = 40;
async function png(name: string, { grey = false, px = 96 } = {}) {
  const value = (shade += 7);
  const background = grey ? { r: value, g: value, b: value } : { r: 200, g: value, b: 60 };
  const buffer = await sharp({ create: { width: px, height: px, channels: 3, background } })
    .png()
    .toBuffer();
  return { name, mimeType: "image/png", buffer };
}

async function handIn(files: Awaited<ReturnType<typeof png>>[]) {
  await page.goto("/intakes");
  await settled(page);
  await page.getByLabel("Files to hand in").setInputFiles(files);
  await page.waitForURL("**/intakes/*-*", { timeout: 90_000 });
  await expect(page.locator(".candidate").first()).toBeVisible({ timeout: 90_000 });
  await settled(page);
}
const set = async (name: string) => [
  await png(`${stamp}${name}_basecolor.png`),
  await png(`${stamp}${name}_${mark}.png`, { grey: true }),
];
const candidate = (name: string) => page.getByRole("region", { name: new RegExp(`^${stamp}${name}`, "i") });

test("three files that end alike are asked about once; the answer is kept, and asks nothing of the next download", async () => {
  await handIn([...(await set("ash")), ...(await set("elm")), ...(await set("oak"))]);
  const questions = page.getByRole("region", { name: "Questions" });
  await expect(questions.getByRole("heading")).toHaveText("One question about 3 files");
  await expect(questions.locator(".question-files img")).toHaveCount(3);
  await expect(questions.getByRole("button", { name: "Answer for all 3" })).toBeDisabled();
  await expectAccessible(page);
  await questions.getByLabel("They are").selectOption({ label: "gloss" });
  await questions.getByLabel("later files named like these too").check();
  await questions.getByRole("button", { name: "Answer for all 3" }).click();
  await expect(questions).toContainText("3 files in");
  for (const name of ["ash", "elm", "oak"])
    await expect(candidate(name).getByLabel(new RegExp(`^Role of .*_${mark}`))).toHaveValue("gloss");
  const asked = page.url();

  await handIn(await set("fir"));
  await expect(candidate("fir").getByLabel(new RegExp(`^Role of .*_${mark}`))).toHaveValue("gloss");
  await page.getByRole("link", { name: "Answers that are kept for later files" }).click();
  const row = page.getByRole("row", { name: new RegExp(mark) });
  await expect(row).toContainText("4 files of 2 intakes");
  await expectAccessible(page);
  await row.getByRole("button", { name: "Take back" }).click();
  await expect(row).toHaveCount(0);
  await page.goto(asked);
  await expect(page.getByRole("heading", { name: "One question about 3 files" })).toBeVisible();
});

test("a file is dragged to where it belongs, by hand and by keyboard, and every move is undone", async () => {
  const gloss = `${stamp}ash_${mark}.png`;
  const handle = candidate("ash").getByRole("button", { name: `Drag ${gloss}` });
  await handle.scrollIntoViewIfNeeded();
  const [from, to] = [(await handle.boundingBox())!, (await candidate("elm").boundingBox())!];
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(from.x + 30, from.y + 30, { steps: 4 });
  await page.mouse.move(to.x + 400, to.y + 60, { steps: 8 });
  await expect(candidate("elm")).toHaveClass(/over/);
  await page.mouse.up();
  await expect(candidate("elm").getByRole("button", { name: `Move ${gloss}` })).toBeVisible();
  await expect(candidate("ash").getByRole("button", { name: `Move ${gloss}` })).toHaveCount(0);
  const moved = page.getByRole("list", { name: "What was moved" });
  await moved.getByRole("button", { name: "Undo" }).press("Enter");
  await expect(candidate("ash").getByRole("button", { name: `Move ${gloss}` })).toBeVisible();

  // Without a pointer.
  await candidate("ash")
    .getByRole("button", { name: `Move ${gloss}` })
    .press("Enter");
  await expect(page.getByLabel("Move it to")).toBeFocused();
  await expectAccessible(page);
  await page.getByLabel("Move it to").selectOption({ label: "a material of its own" });
  await page.getByRole("button", { name: "Move", exact: true }).press("Enter");
  await expect(moved).toContainText("into a material of its own");
  await expect(page.locator(".candidate")).toHaveCount(4);
  await moved.getByRole("button", { name: "Undo" }).press("Enter");
  await expect(page.locator(".candidate")).toHaveCount(3);
});

test("two that are one are merged, with the better of each, and two again when that is undone", async () => {
  const same = await png(`${stamp}twin_basecolor.png`);
  await handIn([same]);
  await page.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("In the library");
  await handIn([{ ...same, name: `${stamp}again_basecolor.png` }]);
  // What the library has already is passed over unless somebody says otherwise.
  const clash = page.getByLabel(/The library has all of it/);
  await expect(clash).toHaveValue("skip");
  await clash.selectOption("keep-both");
  await page.getByRole("button", { name: "Accept", exact: true }).click();
  await expect(page.getByRole("alert")).toContainText("In the library");

  await page.goto("/alike");
  await settled(page);
  await expectAccessible(page);
  await page
    .getByRole("region", { name: new RegExp(`${stamp}twin`, "i") })
    .getByRole("link", { name: /^Merge/ })
    .click();
  await expect(page.getByRole("heading", { name: "Merge two materials into one" })).toBeVisible();
  await settled(page);
  await expectAccessible(page);
  await page.getByRole("radio", { name: new RegExp(`^Name of ${stamp}again`, "i") }).check();
  await page.getByRole("button", { name: "Merge", exact: true }).click();
  const merges = page.getByRole("list", { name: "What was merged" });
  await expect(merges.getByRole("listitem").first()).toContainText(new RegExp(`${stamp}again`, "i"));
  const found = async () =>
    (
      await (
        await page.request.get(`/api/v1/materials?q=${stamp}twin`, {
          headers: { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` },
        })
      ).json()
    ).total as number;
  expect(await found()).toBe(0);
  await merges.getByRole("listitem").first().getByRole("button", { name: "Undo" }).click();
  await expect.poll(found).toBe(1);
});

test("of two that are alike somebody says what they are, and takes it back; those that are the same are merged next", async () => {
  const side = 128;
  const pixels = Buffer.alloc(side * side * 3);
  for (let i = 0; i < pixels.length; i++) {
    const [x, y] = [Math.floor(i / 3) % side, Math.floor(i / 3 / side)];
    pixels[i] = (x * x + 3 * y * y + x * y * (shade % 7)) % 160 > 70 ? 200 - 20 * (i % 3) : 70;
  }
  const raw = sharp(pixels, { raw: { width: side, height: side, channels: 3 } });
  const [first, second] = [await raw.clone().png().toBuffer(), await raw.jpeg({ quality: 92 }).toBuffer()];
  for (const [name, mimeType, buffer] of [
    [`${stamp}pair_basecolor.png`, "image/png", first],
    [`${stamp}copy_basecolor.jpg`, "image/jpeg", second],
  ] as const) {
    await handIn([{ name, mimeType, buffer }]);
    await page.getByRole("button", { name: "Accept", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText("In the library");
  }
  await page.goto("/alike");
  await settled(page);
  const pair = page.getByRole("region", { name: new RegExp(`${stamp}pair`, "i") });
  await pair.getByRole("button", { name: "Something else" }).click();
  const said = page.getByRole("status").filter({ hasText: new RegExp(`${stamp}pair`, "i") });
  await expect(said).toContainText(": something else.");
  await said.getByRole("button", { name: "Undo" }).click();
  await expect(said).toContainText(": not decided.");
  await expect(pair.getByRole("button", { pressed: true })).toHaveCount(0);
  await pair.getByRole("button", { name: "A variant of it" }).click();
  await expect(said).toContainText("They are of one line.");
  await pair.getByRole("button", { name: "The same" }).click();
  await expect(page.getByRole("heading", { name: "Merge two materials into one" })).toBeVisible();
  await expect(page.getByRole("radio", { name: new RegExp(`^Name of ${stamp}copy`, "i") })).toBeVisible();
});

/** Hollows in red, grain in green, and a mask in blue. */
async function packed(name: string) {
  const side = 96;
  const pixels = Buffer.alloc(side * side * 3);
  for (let i = 0; i < side * side; i++) {
    const [x, y] = [i % side, Math.floor(i / side)];
    pixels.set(
      [x % 24 < 2 ? 90 : 250, 90 + ((x * 37 + y * 91 + (shade += 7)) % 60), y % 32 < 12 ? 255 : 0],
      i * 3,
    );
  }
  const buffer = await sharp(pixels, { raw: { width: side, height: side, channels: 3 } })
    .png()
    .toBuffer();
  return { name, mimeType: "image/png", buffer };
}

test("a file that packs maps is told apart, and its channels are asked about with their pictures", async () => {
  const files = ["cove", "reef"].map(async (name) => [
    await png(`${stamp}${name}_basecolor.png`),
    await packed(`${stamp}${name}_v${mark}.png`),
  ]);
  await handIn((await Promise.all(files)).flat());
  const questions = page.getByRole("region", { name: "Questions" });
  await questions.getByLabel("They are").selectOption({ label: "a different map in each channel" });
  await questions.getByRole("button", { name: "Answer for all 2" }).click();
  await expect(questions.getByRole("heading")).toHaveText("3 questions about 2 files");
  await expect(questions).toContainText("The red channel of 2 files");
  const drawn = () =>
    questions
      .locator(".question-files img")
      .evaluateAll((images) => images.map((image) => (image as HTMLImageElement).naturalWidth > 0));
  // They are drawn while the sets are judged, when the worker comes to it.
  await expect.poll(drawn, { timeout: 60_000 }).toEqual(Array<boolean>(6).fill(true));
  await expectAccessible(page);
  for (const role of ["ambient occlusion", "roughness", "metalness"]) {
    const first = questions.getByRole("form").first();
    const words = (await first.locator(".question-words").textContent())!;
    await first.getByLabel("They are").selectOption({ label: role });
    await first.getByRole("button", { name: "Answer for all 2" }).click();
    await expect(questions.getByText(words, { exact: true })).toHaveCount(0);
  }
  await expect(candidate("cove").getByLabel(/^Role of .*#green$/)).toHaveValue("specular_roughness");
  await expect(candidate("reef").getByLabel(/^Role of .*#red$/)).toHaveValue("ambient_occlusion");
});
