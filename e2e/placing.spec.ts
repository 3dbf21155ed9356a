import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

/** Materials dragged from the wall into collections and projects, by pointer and by keys; and the wall as a chart of hues. */
test.describe.configure({ mode: "serial" });

let page: Page;
const stamp = Date.now();
const headers = { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` };
async function made(path: string, data: object): Promise<string> {
  const response = await page.request.post(`/api/v1${path}`, { headers, data });
  return ((await response.json()) as { id: string }).id;
}
const named = async (path: string) => {
  const response = await page.request.get(`/api/v1${path}`, { headers });
  return ((await response.json()) as { items: { name: string }[] }).items.map(({ name }) => name).sort();
};
let collection: string;
let other: string;
let project: string;

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
  for (const [name, color] of [
    ["rust", "#9c3a20"],
    ["sand", "#d2c090"],
    ["ink", "#1c2440"],
  ])
    await made("/materials", { name: `Tarn ${stamp} ${name}`, layout: "plain", color });
  collection = await made("/collections", { name: `Tarn doors ${stamp}` });
  other = await made("/collections", { name: `Tarn gates ${stamp}` });
  project = await made("/projects", { name: `Tarn house ${stamp}` });
});

const handle = (name: string) => page.getByRole("button", { name: `Drag Tarn ${stamp} ${name}` });
const places = () => page.getByRole("complementary", { name: "Where to" });
async function dragTo(name: string, place: string): Promise<void> {
  const from = (await handle(name).boundingBox())!;
  await page.mouse.move(from.x + 5, from.y + 5);
  await page.mouse.down();
  await page.mouse.move(from.x + 40, from.y + 20, { steps: 4 });
  const target = places().getByText(place, { exact: true });
  await target.scrollIntoViewIfNeeded();
  const to = (await target.boundingBox())!;
  await page.mouse.move(to.x + 20, to.y + 8, { steps: 8 });
  await expect(places().locator("li.over")).toHaveText(place);
  await page.mouse.up();
}

test("one is dragged into a collection, and back by an undo", async () => {
  await page.goto(`/library?q=Tarn+${stamp}`);
  await settled(page);
  await dragTo("rust", `Tarn doors ${stamp}`);
  await expect(page.getByText("1 changed")).toBeVisible({ timeout: 30_000 });
  expect(await named(`/materials?collection=${collection}`)).toEqual([`Tarn ${stamp} rust`]);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("1 taken back")).toBeVisible({ timeout: 30_000 });
  expect(await named(`/materials?collection=${collection}`)).toEqual([]);
});

test("what is selected goes together, into a project by the arrow keys", async () => {
  for (const name of ["rust", "ink"]) await page.getByLabel(`Select Tarn ${stamp} ${name}`).check();
  await handle("ink").focus();
  await page.keyboard.press("Space");
  await expect(places()).toBeVisible();
  await expect(places().getByText(`Tarn house ${stamp}`)).toBeVisible();
  const over = places().locator("li.over");
  for (let steps = 0; steps < 80; steps++) {
    if ((await over.count()) === 1 && (await over.textContent()) === `Tarn house ${stamp}`) break;
    // From the last one on: projects stand below.
    await page.keyboard.press("ArrowUp");
    await page.waitForTimeout(60);
  }
  await expect(over).toHaveText(`Tarn house ${stamp}`);
  await page.keyboard.press("Space");
  await expect(page.getByText("2 in the project.")).toBeVisible();
  expect(await named(`/materials?project=${project}`)).toEqual([`Tarn ${stamp} ink`, `Tarn ${stamp} rust`]);
});

test("on a collection’s wall it moves from one to the other", async () => {
  const response = await page.request.get(`/api/v1/materials?q=Tarn+${stamp}+sand`, { headers });
  const [{ id }] = ((await response.json()) as { items: { id: string }[] }).items;
  await page.request.put(`/api/v1/collections/${collection}/materials`, { headers, data: { add: [id] } });
  await page.goto(`/collections/${collection}`);
  await settled(page);
  await dragTo("sand", `Tarn gates ${stamp}`);
  await expect(page.getByText("1 changed")).toBeVisible({ timeout: 30_000 });
  expect(await named(`/materials?collection=${other}`)).toEqual([`Tarn ${stamp} sand`]);
  expect(await named(`/materials?collection=${collection}`)).toEqual([]);
});

test("in the order of colour stands a chart of hues, whose fields lead to what has their colour", async () => {
  await page.goto(`/library?q=Tarn+${stamp}&sort=color`);
  await settled(page);
  const chart = page.getByRole("figure", { name: "The colours of what was found" });
  await expect(chart.getByRole("link")).toHaveCount(3);
  await expectAccessible(page);
  await chart.getByRole("link", { name: "1 material near #9c3a20" }).click();
  await expect(page).toHaveURL(/color=9c3a20|color=%239c3a20/);
  await expect(page.getByRole("link", { name: `Open Tarn ${stamp} rust` })).toBeVisible();
  await expect(page.getByRole("link", { name: `Open Tarn ${stamp} ink` })).toHaveCount(0);
});
