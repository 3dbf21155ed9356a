import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { expectAccessible, settled, signIn, TOKEN, test } from "./studio";

/** Real size in all its ways, on the demo's own materials. */
test.describe.configure({ mode: "serial" });

let page: Page;

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

const openGauge = async (name: string, tab?: string) => {
  await page.goto(`/library?q=${encodeURIComponent(name)}`);
  await settled(page);
  await page.getByRole("link", { name: `Open ${name}`, exact: true }).click();
  await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Gauge" }).click();
  if (tab) await page.getByRole("navigation", { name: "Gauge" }).getByRole("link", { name: tab }).click();
};

const image = async () => {
  const picture = page.locator(".table-surface > img");
  await expect(picture).toBeVisible();
  return (await picture.boundingBox())!;
};

/** Drags over the picture, places as shares of its width and height. */
const drag = async (from: [number, number], to: [number, number]) => {
  const { x, y, width, height } = await image();
  await page.mouse.move(x + from[0] * width, y + from[1] * height);
  await page.mouse.down();
  await page.mouse.move(x + to[0] * width, y + to[1] * height, { steps: 5 });
  await page.mouse.up();
};

test("a counted module is named from the standard formats, and the size follows", async () => {
  await openGauge("Quay paver");
  await page.getByRole("button", { name: "Take this count" }).click({ timeout: 90_000 });
  await expect(page.getByLabel("Modules across")).toHaveValue("4");
  await page.getByLabel("What it is").selectOption("paving-200x100");
  await expect(page.locator(".gauge-size")).toHaveText("812 × 824 mm");
  // Standing on its end it would be stretched, and by so much that it has to be meant.
  await page.getByLabel("It stands in the picture").check();
  await expect(page.locator(".gauge-result")).toContainText("disagree");
  await expect(page.getByRole("button", { name: "Save this size" })).toBeDisabled();
  await page.getByLabel(/I mean this stretch/).check();
  await expect(page.getByRole("button", { name: "Save this size" })).toBeEnabled();
  await expectAccessible(page);
});

test("several lines are pulled to the joints, say what each is off by, and can be taken back", async () => {
  await page.getByLabel("Way to the size").selectOption("lines");
  // Near the joints at a quarter and at three quarters, on the bed at a quarter of the height.
  await drag([0.253, 0.252], [0.748, 0.249]);
  await page.getByLabel("Line 1, real length").fill("406");
  // Two modules of 203 mm, to the half pixel to which the lattice lies.
  await expect(page.locator(".gauge-size")).toHaveText(/^81[12](\.\d)? × 82[34](\.\d)? mm$/);
  await page.getByRole("button", { name: "Another line" }).click();
  await drag([0.6, 0.127], [0.6, 0.623]);
  await page.getByLabel("Line 2, real length").fill("420");
  await expect(page.locator(".gauge-size")).toHaveText(/^81[12](\.\d)? × 84\d(\.\d)? mm$/);
  await expect(page.locator(".line-rows legend").first()).toContainText("%");
  const before = await page.getByLabel("Line 2, to, down").inputValue();
  await page.locator(".table-surface").focus();
  await page.keyboard.press("Shift+ArrowUp");
  await expect(page.getByLabel("Line 2, to, down")).toHaveValue((Number(before) - 10).toFixed(1));
  await page.keyboard.press("Control+z");
  await expect(page.getByLabel("Line 2, to, down")).toHaveValue(before);
  await page.getByRole("button", { name: "Redo" }).click();
  await expect(page.getByLabel("Line 2, to, down")).not.toHaveValue(before);
  await expectAccessible(page);
});

test("the size of another material is found by its name and taken over", async () => {
  await page.getByLabel("Way to the size").selectOption("same-as");
  await page.getByLabel("The other material").first().fill("harbour flint");
  await page.getByRole("button", { name: /Harbour brick, flint/ }).click();
  const { items } = await (await page.request.get("/api/v1/materials?q=Harbour+brick%2C+flint")).json();
  const { width, height } = items[0].repeat;
  await expect(page.locator(".gauge-size")).toHaveText(`${width} × ${height} mm`);
});

test("the result is compared with what everybody knows, and fitted to a surface", async () => {
  await openGauge("Harbour brick, red", "Compare");
  await expect(page.getByText("900 mm", { exact: true })).toBeVisible();
  await expect(page.getByRole("application", { name: /with a door, a figure/ })).toBeVisible();
  await expectAccessible(page);
  await page
    .getByRole("navigation", { name: "Gauge" })
    .getByRole("link", { name: "Fit to a surface" })
    .click();
  await page.getByLabel("Width of the surface").fill("2.24 m");
  await expect(page.getByRole("row", { name: /10 modules/ })).toContainText("+0.00 %");
  await expect(page.locator(".cut-words").first()).toContainText("no cut · 10 whole · no cut");
  await page.getByLabel("Begins across with").selectOption("joint");
  await expectAccessible(page);
  await page.getByLabel("Width of the surface").fill("nothing");
  await expect(page.getByText("“nothing” is not a length")).toBeVisible();
});

test("a search that begins while somebody else changes the material is not taken for a material", async () => {
  await openGauge("Harbour brick, red");
  const id = new URL(page.url()).pathname.split("/")[2];
  const errors: string[] = [];
  page.on("pageerror", ({ message }) => errors.push(message));
  page.on("console", (message) => message.type() === "error" && errors.push(message.text()));
  // Whatever the browser asks for besides the page is slow, so that the change comes in between.
  await page.route(/__manifest|find\.data/, async (route) => {
    await new Promise((resolve) => setTimeout(resolve, 1500));
    await route.continue();
  });
  const tabs = page.getByRole("navigation", { name: "Gauge" });
  await tabs.getByRole("link", { name: "Compare" }).click();
  await expect(page.getByText("900 mm", { exact: true })).toBeVisible();
  const headers = { Authorization: `Bearer ${TOKEN}` };
  const { revision, name } = await (await page.request.get(`/api/v1/materials/${id}`, { headers })).json();
  const changed = await page.request.patch(`/api/v1/materials/${id}`, {
    headers: { ...headers, "If-Match": `"${revision}"` },
    data: { name },
  });
  expect(changed.status()).toBe(200);
  await expect(page.getByRole("button", { name: /Cast wall/ })).toBeVisible();
  expect(errors).toEqual([]);
  await page.unrouteAll();
});

test("a region of a photograph becomes a material of its own size", async () => {
  await openGauge("Customs house gable, photograph", "Flatten a photograph");
  const name = `Gable ${Date.now().toString(36)}`;
  await page.getByLabel("Name of the new material").fill(name);
  await page.getByLabel("Real width").fill("3.6 m");
  await page.getByLabel("Real height").fill("2400");
  await expect(page.getByText("As it will be.")).toBeVisible();
  // The corners exchanged would mirror it: told, and not made.
  await drag([0.2, 0.2], [0.9, 0.3]);
  await drag([0.8, 0.2], [0.1, 0.2]);
  await expect(page.getByRole("alert")).toContainText(/mirrored|cross|inside the other/);
  await expect(page.getByRole("button", { name: "Create material" })).toBeDisabled();
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await drag([0.2, 0.2], [0.145, 0.14]);
  await drag([0.8, 0.2], [0.888, 0.254]);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Create material" }).click();
  await page.getByRole("link", { name, exact: true }).click({ timeout: 90_000 });
  await expect(page.getByRole("heading", { name, exact: true })).toBeVisible();
  await expect(page.getByRole("link", { name: /Gauge.*3600 × 2400 mm, known/ })).toBeVisible();
});

test("what has no size yet is worked through by one key", async () => {
  await openGauge("Customs house gable, photograph");
  await expect(page.getByText(/without a size/).first()).toBeVisible();
  await page.locator("h1").click();
  await page.keyboard.press("n");
  await expect(page.getByRole("heading", { level: 1 })).not.toHaveText("Customs house gable, photograph");
  await expect(page.getByLabel("Way to the size")).toHaveValue("modules");
});

test("an image over 4096 px is looked at as tiles, down to the very pixel", async () => {
  const name = `frieze${Date.now()}`;
  const file = await sharp({ create: { width: 4200, height: 300, channels: 3, background: "#a86" } })
    .jpeg()
    .toBuffer();
  await page.goto("/intakes");
  await page
    .getByLabel("Files to hand in")
    .setInputFiles({ name: `${name}_basecolor.jpg`, mimeType: "image/jpeg", buffer: file });
  await page.waitForURL("**/intakes/*-*");
  await page
    .getByRole("button", { name: /^Accept/ })
    .first()
    .click();
  await page
    .getByRole("link", { name: new RegExp(name, "i") })
    .first()
    .click();
  await page.waitForURL(/\/materials\/[0-9a-f-]+/);
  await page.goto(new URL(page.url()).pathname.split("/").slice(0, 3).join("/"));
  const table = page.getByRole("application").first();
  await expect(table).toBeVisible();
  await expect(table.locator("img.tile")).toHaveCount(0);
  await table.focus();
  for (let press = 0; press < 9; press++) await page.keyboard.press("+");
  const tile = table.locator("img.tile").first();
  await expect(tile).toBeVisible();
  await expect.poll(() => tile.evaluate((image: HTMLImageElement) => image.naturalHeight)).toBe(300);
});
