import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

test.describe.configure({ mode: "serial" });

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

const tagged = async (tag: string): Promise<number> =>
  (await (await page.request.get(`/api/v1/materials?tag=${tag}`)).json()).total;

test("all that is found is changed in five clicks, which say before what they do, and is taken back in one", async () => {
  await page.goto("/library?q=brick");
  await settled(page);
  const all = page.getByRole("button", { name: /^Select all \d+$/ });
  const count = Number(/\d+/.exec(await all.innerText())![0]);
  expect(count).toBeGreaterThan(1);
  await all.click();
  await expect(page.getByText(`${count} selected`)).toBeVisible();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("button", { name: "Add tags" }).click();
  await page.getByLabel("Tags", { exact: true }).fill("south wall");
  const plan = page.locator(".change-plan");
  await expect(plan).toContainText(`${count} would change`);
  await expect(plan).toContainText("It touches");
  await expect(plan.locator("ins").first()).toContainText("south wall");
  await expectAccessible(page);
  await page.getByRole("button", { name: `Change ${count}` }).click();
  const status = page.locator(".change-status");
  await expect(status).toContainText(`${count} changed`, { timeout: 30_000 });
  expect(await tagged("south+wall")).toBe(count);
  await status.getByRole("button", { name: "Undo" }).click();
  await expect(status).toContainText(`${count} taken back`, { timeout: 30_000 });
  expect(await tagged("south+wall")).toBe(0);
});

test("a rule that would call all the same is refused where it is written, and nothing happens", async () => {
  await page.goto("/library?q=brick");
  await settled(page);
  await page.getByRole("button", { name: /^Select all/ }).click();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("button", { name: "Names" }).click();
  const rule = page.getByLabel("Rule for the names");
  await rule.fill("Wall");
  await expect(page.locator(".change-many")).toContainText("otherwise all materials have one name");
  await rule.fill("Wall 01");
  await expect(page.locator(".change-plan ins").first()).toHaveText("Wall 01");
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.locator(".change-many")).toHaveCount(0);
});

test("taking out is for those alone who keep the library, and is taken back from the list of what was done", async ({
  browser,
}) => {
  const joost = await signIn(browser, "joost");
  await joost.getByRole("button", { name: /^Select all/ }).click();
  await joost.getByRole("button", { name: "Change", exact: true }).click();
  await expect(joost.getByRole("button", { name: "Names" })).toBeVisible();
  await expect(joost.getByRole("button", { name: "Take out of the library" })).toHaveCount(0);

  const name = `Passing grey ${Date.now()}`;
  const made = await page.request.post("/api/v1/materials", {
    data: { name, layout: "plain", color: "#777777" },
    headers: { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` },
  });
  expect(made.status()).toBe(201);
  await page.goto(`/library?q=${encodeURIComponent(name)}`);
  await settled(page);
  await page.getByLabel(`Select ${name}`).check();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("button", { name: "Take out of the library" }).click();
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByText("1 selected")).toBeVisible();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("button", { name: "Take out of the library" }).click();
  await page.getByRole("button", { name: "Take 1 out" }).click();
  await expect(page.locator(".change-status")).toContainText("1 changed", { timeout: 30_000 });
  await expect(page.getByText("Nothing fits")).toBeVisible();
  await page.locator(".change-status").getByRole("link", { name: "Look" }).click();
  await expect(page.getByRole("row", { name: new RegExp(name) })).toContainText("taken out");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("Taken back by Ines")).toBeVisible({ timeout: 30_000 });
  await page.goto(`/library?q=${encodeURIComponent(name)}`);
  await expect(page.getByLabel(`Select ${name}`)).toBeVisible();
});

const api = async (method: "post" | "put" | "patch", path: string, data: object) => {
  const answer = await page.request[method](`/api/v1${path}`, {
    data,
    headers: { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` },
  });
  expect(answer.ok(), `${path}: ${await answer.text()}`).toBe(true);
  return answer.json();
};

test("a search becomes a collection that fills itself, until somebody stops it", async () => {
  const word = `Selfsame${Date.now()}`;
  const plain = (name: string) => api("post", "/materials", { name, layout: "plain", color: "#556677" });
  await plain(`${word} one`);
  await page.goto(`/library?q=${word}`);
  await settled(page);
  await page.getByRole("button", { name: "Saved searches" }).click();
  await page.getByLabel("Name of this search").fill(word);
  await page.getByRole("button", { name: "Save as a collection" }).click();
  await page.waitForURL("**/collections/*-*");
  await expect(page.getByText("It fills itself with what a search finds")).toBeVisible();
  await expectAccessible(page);
  await plain(`${word} two`);
  await expect(page.getByText(`${word} two`)).toBeVisible({ timeout: 30_000 });
  await page.getByRole("button", { name: "Stop filling it" }).click();
  await expect(page.getByText("It fills itself")).toHaveCount(0);
});

test("a project shows what is newer beside what it took, moves on with it, and goes back", async () => {
  const name = `Turning coat ${Date.now()}`;
  const { id } = await api("post", "/materials", { name, layout: "plain", color: "#884433" });
  const project = (await api("post", "/projects", { name: `House of ${name}` })).id;
  await api("put", `/projects/${project}/materials`, { add: [id] });
  await api("patch", `/materials/${id}`, { finish: { color: "#334488" } });
  await page.goto(`/projects/${project}`);
  await settled(page);
  await expect(page.getByText(/1 material is newer than/)).toBeVisible();
  for (const alt of [`${name}, revision 1`, `${name}, revision 2`])
    await expect
      .poll(() => page.getByAltText(alt).evaluate((image: HTMLImageElement) => image.naturalWidth), {
        timeout: 60_000,
      })
      .toBeGreaterThan(0);
  await expectAccessible(page);
  await page.getByRole("button", { name: `Move on with ${name}` }).click();
  await expect(page.getByRole("list", { name: "Moved on" })).toContainText("revision 1 to 2");
  await page.getByRole("button", { name: `Go back with ${name}` }).click();
  await expect(page.getByText(/1 material is newer than/)).toBeVisible();

  await page.goto(`/materials/${id}/uses`);
  await settled(page);
  const projects = page.getByRole("region", { name: "Projects" });
  await expect(projects).toContainText("has revision 1");
  await expectAccessible(page);
  await projects.getByRole("button", { name: /^Move on/ }).click();
  await expect(projects).toContainText("has the newest revision");
});
