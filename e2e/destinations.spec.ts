import { expect } from "@playwright/test";
import { expectAccessible, settled, signIn, TOKEN, test } from "./studio";

test("what was delivered is proved by pictures, and found by the paths that people's machines have", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const list = await (await page.request.get("/api/v1/materials?q=Tidewater+glaze%2C+teal")).json();
  const name = `Site share ${Date.now().toString(36)}`;
  await page.goto(`/deliveries/new?material=${list.items[0].id}&profile=packed-walkthrough-m`);
  await settled(page);
  await page.getByLabel("or into a new destination").fill(name);
  await page.getByRole("button", { name: /^Start/ }).click();
  await page.waitForURL(/\/deliveries\/[0-9a-f]{8}-/);
  const delivery = page.url();
  await expect(
    page.getByRole("img", { name: /the material, the delivery and their difference/ }),
  ).toBeVisible({
    timeout: 90_000,
  });
  await expect(page.getByText(/ΔE \d\.\d on the whole/)).toBeVisible();
  await expectAccessible(page);
  await page.getByText("Under every light, on both shapes").click();
  await expect(page.getByRole("figure")).toHaveCount(4);

  await page.goto("/destinations");
  await settled(page);
  await page.getByRole("link", { name, exact: true }).click();
  await expect(page.getByRole("heading", { level: 1, name })).toBeVisible();
  await page.getByText("Say where it lies as people’s machines see it").click();
  await page.getByRole("textbox").fill("Windows = S:\\Site\nMacs: no path");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("alert")).toContainText("Windows = S:\\Textures");
  await page.getByRole("textbox").fill("Windows = S:\\Site");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("row", { name: /Windows/ })).toContainText("S:\\Site");
  await page.getByRole("button", { name: "Check the files" }).click();
  await expect(
    page.getByText(/files were delivered here: all are there, as they were delivered/),
  ).toBeVisible({
    timeout: 90_000,
  });
  await expectAccessible(page);

  await page.goto(delivery);
  const path = await page.locator(".whole-path .file").textContent();
  expect(path).toMatch(/^S:\\Site\\packed-walkthrough-m\\tidewater-glaze-teal/);
  await page.goto("/destinations");
  await settled(page);
  const file = `${path!.replace(/^.*\\/, "")}_orm.png`;
  const links = [`${path}\\${file}`, `D:\\old\\${file}`, "D:\\mine.png"].join("\n");
  await page.getByLabel("Paths", { exact: true }).fill(links);
  await page.getByRole("button", { name: "Check" }).click();
  const found = page.getByRole("region", { name: "What was found" });
  await expect(found).toContainText("3 paths: 1 there, 0 with a newer revision, 1 moved, 1 not known here.");
  await expectAccessible(page);

  await page
    .getByLabel(/or hand in a file/)
    .setInputFiles({ name: "hall.csv", mimeType: "text/csv", buffer: Buffer.from(links) });
  await page.waitForURL("**/links/*-*");
  await expect(page.getByRole("region", { name: "What was found" })).toContainText("1 moved", {
    timeout: 90_000,
  });
  const download = page.getByRole("link", { name: "Download old and new paths" });
  const table = await (await page.request.get((await download.getAttribute("href"))!)).text();
  expect(table).toContain(`D:\\old\\${file},moved,${name},${path}\\${file}`);
  await expectAccessible(page);
});

test("a project keeps a destination up to date by itself once it moves on", async ({ browser }) => {
  const page = await signIn(browser, "ines");
  const call = async (method: "post" | "get" | "patch" | "put", path: string, data?: object) => {
    const answer = await page.request[method](`/api/v1${path}`, {
      data,
      headers: { Authorization: `Bearer ${TOKEN}` },
    });
    expect(answer.ok(), await answer.text()).toBe(true);
    return answer.json();
  };
  const mark = Date.now().toString(36);
  const plain = await call("post", "/materials", {
    name: `Gate paint ${mark}`,
    layout: "plain",
    color: "#335544",
  });
  const project = await call("post", "/projects", { name: `Gate house ${mark}` });
  await call("put", `/projects/${project.id}/materials`, { add: [plain.id] });
  await call("post", "/destinations", { name: `Gate share ${mark}`, folder: `gate-${mark}` });
  await call("post", "/deliveries", {
    project: project.id,
    profiles: ["gloss-path-tracer-cm"],
    destination: `Gate share ${mark}`,
  });
  await page.goto(`/projects/${project.id}`);
  await settled(page);
  await page.getByRole("checkbox", { name: `Gate share ${mark}` }).check();
  await page
    .getByRole("region", { name: "Kept up to date by itself" })
    .getByRole("button", { name: "Save" })
    .click();
  await call("patch", `/materials/${plain.id}`, { finish: { roughness: 0.3 } });
  await page.getByRole("button", { name: `Move on with Gate paint ${mark}` }).click();
  // The one by hand, and the one that nobody asked for.
  await expect(page.getByRole("row", { name: new RegExp(`Gate house ${mark}.*done`) })).toHaveCount(2, {
    timeout: 90_000,
  });
  await expect(page.getByText("Out of date at the destinations")).toBeHidden();
  await expectAccessible(page);
  await page.goto("/destinations");
  await page.getByRole("link", { name: `Gate share ${mark}` }).click();
  await expect(page.getByText(`Kept up to date by Gate house ${mark}`)).toBeVisible();
});
