import { readFile } from "node:fs/promises";
import { expect, type Page } from "@playwright/test";
import { expectAccessible, pavingZip, settled, signIn, typeValue, test } from "./studio";

/** The whole path, from a downloaded zip to a delivered material that two projects share, by two people. */
test.describe.configure({ mode: "serial" });

let ines: Page;
let joost: Page;
const stamp = Date.now().toString(36);
const NAME = `Yard paving ${stamp}`;
const COLLECTION = `Courtyards ${stamp}`;

test.beforeAll(async ({ browser }) => {
  ines = await signIn(browser, "ines");
  joost = await signIn(browser, "joost");
});

const open = async (page: Page, path: string) => {
  await page.goto(path);
  await settled(page);
};

const openBench = async (page: Page, step = "") => {
  await open(page, `/library?q=${encodeURIComponent(NAME)}`);
  await page.getByRole("link", { name: `Open ${NAME}` }).click();
  await page.waitForURL("**/materials/*");
  if (step) await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: step }).click();
};

test("the library is a wall at true scale, searched and selected from", async () => {
  await open(ines, "/library");
  const samples = ines.getByRole("list", { name: "Materials" }).getByRole("listitem");
  expect(await samples.count()).toBeGreaterThanOrEqual(12);

  const brick = ines.getByRole("link", { name: "Open Harbour brick, red" }).locator(".face");
  const drawn = async () => parseFloat(await brick.evaluate((face) => getComputedStyle(face).backgroundSize));
  for (const scale of [5, 10, 20, 50]) {
    // Whoever tests beside this one under the same name may choose another scale meanwhile.
    await expect(async () => {
      await ines.getByLabel("Scale").selectOption(String(scale));
      // 900 mm at the scale, in CSS pixels of 96 to the inch.
      await expect.poll(drawn, { timeout: 5000 }).toBeCloseTo((900 / scale) * (96 / 25.4), 1);
    }).toPass({ timeout: 60_000 });
  }
  await ines.getByLabel("Scale").selectOption("10");
  await expect(ines.getByRole("listitem").filter({ hasText: "Dark flags" })).toContainText("size unknown");
  await expect(ines.getByRole("listitem").filter({ hasText: "Hemp plaster" })).toContainText("assumed");
  await expectAccessible(ines);

  await ines.getByRole("searchbox").fill("tidewater");
  await expect(samples).toHaveCount(2);
  await ines.getByLabel("Select Tidewater glaze, teal").check();
  await ines.getByLabel("Select Tidewater glaze, chalk").check();
  await expect(ines.getByText("2 selected")).toBeVisible();
  await expect(ines.locator(".title-block")).toContainText("1.62 m² of repeats");
  await ines.getByRole("button", { name: "Select nothing" }).click();
  await ines.reload();
  await expect(ines.getByLabel("Scale")).toHaveValue("10");
});

test("a dropped zip is read, reviewed, corrected and accepted", async () => {
  await open(ines, "/intakes");
  await expectAccessible(ines);
  await ines
    .getByLabel("Files to hand in")
    .setInputFiles({ name: "yard.zip", mimeType: "application/zip", buffer: await pavingZip() });
  await ines.waitForURL("**/intakes/*-*");
  const candidate = ines.getByRole("region", { name: "Yard paving" });
  await expect(candidate).toBeVisible({ timeout: 90_000 });
  await expect(candidate.getByRole("row").filter({ hasText: "yard_paving_height.png" })).toContainText(
    "256 × 256",
  );
  await expect(candidate.getByRole("row").filter({ hasText: "yard_paving_height.png" })).toContainText("16");
  await expect(candidate.getByRole("row").filter({ hasText: "yard_paving_sm.png" })).toContainText(
    "please say",
  );
  await expect(candidate).toContainText("is +Y (green up) by its pixels");
  await expect(ines.getByRole("row").filter({ hasText: "readme.txt" })).toContainText(
    "A text that came along",
  );
  await expectAccessible(ines);

  await candidate.getByLabel("Name").fill(NAME);
  await candidate.getByLabel("Role of yard_paving_sm.png").selectOption("specular_roughness");
  await candidate.getByRole("button", { name: "Accept" }).click();
  await expect(ines.getByRole("alert")).toContainText(`In the library: ${NAME}`);
  // The message outlives the reloads that events cause.
  await ines.waitForTimeout(1500);
  await expect(ines.getByRole("alert")).toContainText(`In the library: ${NAME}`);
  await open(ines, `/library?q=${stamp}`);
  await expect(ines.getByRole("listitem")).toContainText("size unknown");
});

test("the gauge finds the size by modules, with the stretch and the choice", async () => {
  await openBench(ines, "Gauge");
  await expectAccessible(ines);
  for (const [label, value] of [
    ["Modules across", "4"],
    ["Courses up", "8"],
    ["Work size, width", "20 cm"],
    ["Work size, height", "100"],
    ["Joint", "3"],
  ])
    await ines.getByLabel(label, { exact: true }).fill(value);
  const result = ines.locator(".gauge-result");
  await expect(result).toContainText("812 × 824 mm");
  await expect(result).toContainText("+1.48 %");
  await ines.getByLabel("Keep proportions, the width is right").check();
  await expect(result).toContainText("812 × 812 mm");
  await ines.getByLabel("Stretch the image: both are right").check();
  await ines.getByLabel("Work size, width").fill("12 q");
  await expect(ines.getByRole("alert")).toContainText("“12 q” is not a length");
  await expect(ines.getByRole("button", { name: "Save this size" })).toBeDisabled();
  await ines.getByLabel("Work size, width").fill("200");
  await ines.getByRole("button", { name: "Save this size" }).click();
  await expect(ines.getByText("Saved as revision 2: 812 × 824 mm, known.")).toBeVisible();
});

test("a rod laid on the image reads real lengths, and a drawn rectangle measures", async () => {
  await openBench(ines, "Gauge");
  await expect(ines.getByLabel("Way to the size")).toBeVisible();
  const surface = ines.locator(".table-surface");
  await expect(surface.locator("img")).toBeVisible();
  /** From one place of the image to another, as shares of it, wherever it lies now. */
  const drag = async (from: [number, number], to: [number, number]) => {
    const image = (await surface.getByAltText("Base color map").boundingBox())!;
    const at = ([u, v]: [number, number]) => [image.x + u * image.width, image.y + v * image.height] as const;
    await ines.mouse.move(...at(from));
    await ines.mouse.down();
    await ines.mouse.move(...at(to), { steps: 6 });
    await ines.mouse.up();
  };
  await ines.getByRole("button", { name: "Measuring rod" }).click();
  await drag([0.25, 0.5], [0.5, 0.5]);
  // A quarter of 812 mm, as well as a pointer can be placed.
  const reading = parseFloat((await ines.locator(".table-reading").getByRole("status").textContent())!);
  expect(Math.abs(reading - 203)).toBeLessThan(2);

  await ines.getByLabel("Way to the size").selectOption("rectangle");
  await drag([0.25, 0.25], [0.5, 0.5]);
  await expect.poll(() => ines.getByLabel("To, across (px)").inputValue().then(Number)).toBeGreaterThan(120);
  await ines.getByLabel("Its real width").fill("203");
  await ines.getByLabel("Its real height").fill("0.206 m");
  await expect(ines.locator(".gauge-size")).toHaveText(/^8(0|1|2)\d(\.\d)? × 8(1|2|3)\d(\.\d)? mm$/);
});

test("the bench shows the maps, and the material on a wall under a light that grazes", async () => {
  await openBench(ines);
  await ines.getByRole("button", { name: "height", exact: true }).click();
  await expect(ines.locator(".map-facts")).toContainText("16-bit");
  await expectAccessible(ines);
  await ines.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Finish" }).click();
  await ines.getByRole("combobox", { name: "Shape" }).selectOption("wall");
  const whole = ines.locator(".finish-sample[aria-busy=false]");
  await expect(whole).toHaveAttribute("aria-label", /on a wall 4 m wide/, { timeout: 90_000 });
  const picture = async () => (await whole.locator("canvas").screenshot()).toString("base64");
  const before = await picture();
  await ines.getByRole("button", { name: "Light" }).click();
  await ines.getByLabel("Lamp 50° above").fill("5");
  await expect(ines.locator(".title-block")).toContainText("lamp 5° above");
  await expect.poll(picture, { timeout: 90_000 }).not.toBe(before);
  await ines.getByLabel("Wall width").fill("banana");
  await expect(ines.getByText("“banana” is not a length")).toBeVisible();
  await ines.getByLabel("Wall width").fill("6 m");
  await expect(ines.locator(".finish-sample")).toHaveAttribute("aria-label", /on a wall 6 m wide/);
  await expectAccessible(ines);
});

test("its facts are kept, and a licence of its own", async () => {
  await openBench(ines, "Facts");
  await ines.getByLabel("Supplier").fill("Weir Clay");
  await ines.getByLabel("Page").fill("https://weir.example/yard");
  await ines.getByLabel("Licence").selectOption("new");
  const name = `Bought for ${stamp}`;
  await ines.getByLabel("What it is called").fill(name);
  await ines.getByLabel("Price").selectOption("bought");
  await ines.getByLabel("Last day").fill("2020-02-29");
  await expectAccessible(ines);
  await ines.getByRole("button", { name: "Save" }).click();
  await expect(ines.getByText("Saved.", { exact: true })).toBeVisible();
  // What was new is chosen as a known one from then on.
  await expect(ines.getByLabel("Licence").locator("option:checked")).toHaveText(name);
  const order = ines.getByRole("complementary", { name: "Work order" });
  await expect(order).toContainText(`The licence “${name}” ended on 2020-02-29.`);
  // What comes after has to do without the warning.
  await ines.getByLabel("Licence").selectOption({ label: "Free for every project" });
  await ines.getByRole("button", { name: "Save" }).click();
  await expect(order).not.toContainText("ended on");
});

test("a collection is given to two projects, and a second person sees it", async () => {
  await open(ines, `/library?q=${stamp}`);
  await ines.getByLabel(`Select ${NAME}`).check();
  await ines.getByRole("button", { name: "Add to collection" }).click();
  await ines.getByLabel("Name of a new collection").fill(COLLECTION);
  await ines.getByRole("button", { name: "Create" }).click();
  await ines.getByRole("link", { name: "Look" }).click();
  await expect(ines.getByRole("heading", { name: COLLECTION })).toBeVisible();
  for (const project of ["Ferry landing", "Seed library"]) {
    await ines.getByLabel("Project to give it to").selectOption({ label: project });
    await ines.getByRole("button", { name: "Give to project" }).click();
    await expect(ines.locator(".shared-by").getByRole("link", { name: project })).toBeVisible();
  }
  await expectAccessible(ines);
  await ines.getByText("Rename or move").click();
  await expectAccessible(ines);
  const renaming = ines.getByRole("form", { name: "Rename or move" });
  await renaming.getByLabel("Name", { exact: true }).fill(`${COLLECTION}, river side`);
  await renaming.getByLabel("Inside").selectOption({ label: "inside House palette" });
  await renaming.getByRole("button", { name: "Save" }).click();
  await expect(ines.getByRole("heading", { name: `${COLLECTION}, river side` })).toBeVisible();
  await expect(ines.locator(".path").getByRole("link", { name: "House palette" })).toBeVisible();
  for (const project of ["Ferry landing", "Seed library"]) {
    await open(joost, "/projects");
    await joost.getByRole("link", { name: project }).click();
    await expect(joost.getByRole("heading", { name: project })).toBeVisible();
    await expect(joost.getByRole("listitem").filter({ hasText: NAME })).toContainText("revision 2");
  }
  await expectAccessible(joost);
  await open(joost, "/collections");
  await expect(joost.getByRole("row").filter({ hasText: COLLECTION })).toContainText(
    "Ferry landing, Seed library",
  );
  await expectAccessible(joost);
});

test("a conversion shows its plan, runs, ends with an account, and its zip can be downloaded", async () => {
  await openBench(ines, "Convert");
  await ines.waitForURL("**/deliveries/new?*");
  for (const profile of [
    "gloss path tracer, centimetres",
    "packed real-time walkthrough, metres",
    "glTF 2.0",
  ]) {
    await ines.getByLabel(profile).check();
    await expect(ines.locator(".plan h2").filter({ hasText: profile })).toBeVisible();
  }
  const gloss = ines.locator(".plan").filter({ hasText: "for gloss path tracer" });
  await gloss.locator("summary").click();
  await expect(gloss.getByRole("row").filter({ hasText: "base colour" })).toContainText("multiply ao 1");
  await expect(gloss.getByRole("row").filter({ hasText: "gloss" })).toContainText("invert");
  await expect(gloss.getByRole("row").filter({ hasText: "16-bit TIFF" })).toHaveCount(2);
  await expectAccessible(ines);
  await ines.getByRole("button", { name: /^Start: \d+ files/ }).click();
  await ines.waitForURL("**/deliveries/*-*");
  await expect(ines.getByRole("link", { name: "Download the zip" })).toBeVisible({ timeout: 90_000 });
  await expect(ines.getByText("Tell the relief input that it gets a normal map")).toBeVisible();
  await expectAccessible(ines);
  const [download] = await Promise.all([
    ines.waitForEvent("download"),
    ines.getByRole("link", { name: "Download the zip" }).click(),
  ]);
  const zip = await readFile(await download.path());
  expect(zip.subarray(0, 2).toString()).toBe("PK");
  for (const name of ["account.json", "_normal.tif", "_orm.png", ".glb"])
    expect(zip.includes(name)).toBe(true);
});

test("a project is delivered into a destination, and again: what did not change is left alone", async () => {
  await open(joost, "/projects");
  await joost.getByRole("link", { name: "Ferry landing" }).click();
  await joost.getByRole("link", { name: "Convert and deliver" }).click();
  await joost.getByLabel("packed real-time walkthrough, metres").check();
  await joost.getByLabel("Where to").selectOption({ label: "Studio share (studio-share/)" });
  await joost.getByRole("button", { name: /^Start/ }).click();
  await joost.waitForURL("**/deliveries/*-*");
  await expect(joost.getByText(/files were written/)).toBeVisible({ timeout: 90_000 });
  await expect(joost.getByText(NAME)).toBeVisible();
  await joost.getByRole("button", { name: "Deliver again" }).click();
  await expect(
    joost.getByText(/^.*0 files were written; \d+ had not changed and were left alone\./),
  ).toBeVisible({ timeout: 90_000 });
  await open(ines, "/deliveries");
  await expect(ines.getByRole("row").filter({ hasText: "Ferry landing" }).first()).toContainText(
    "Joost Venn",
  );
  await expectAccessible(ines);
});

test("a single material is given to a project, and taken out again", async () => {
  await open(ines, "/library?q=buoy");
  await ines.getByLabel("Select Buoy ochre, matt").check();
  await ines.getByRole("button", { name: "Give to project" }).click();
  await ines.getByRole("button", { name: "Ferry landing" }).click();
  await ines.getByRole("link", { name: "Look" }).click();
  const sample = ines.getByRole("listitem").filter({ hasText: "Buoy ochre" });
  await expect(sample).toContainText("plain colour");
  await sample.getByRole("button", { name: "Take Buoy ochre, matt out of the project" }).click();
  await expect(sample).toHaveCount(0);
});

test("a change reaches a second screen by itself, and a project stays on its revision until moved on", async () => {
  await openBench(joost);
  await openBench(ines, "Finish");
  await typeValue(ines, "normal strength", "0.8");
  await ines.getByRole("button", { name: "Save", exact: true }).click();
  await expect(ines.getByText("Saved as revision 3.")).toBeVisible();
  await expectAccessible(ines);
  await expect(joost.getByText("revision 3")).toBeVisible();
  await open(joost, "/projects");
  await joost.getByRole("link", { name: "Ferry landing" }).click();
  const there = joost
    .getByRole("list", { name: "Materials of Ferry landing" })
    .getByRole("listitem")
    .filter({ hasText: NAME });
  await expect(there).toContainText("revision 2, newest is 3");
  await joost.getByRole("button", { name: `Move on with ${NAME}` }).click();
  await expect(there).toContainText("revision 3");
  await expect(joost.getByRole("button", { name: `Move on with ${NAME}` })).toHaveCount(0);
});
