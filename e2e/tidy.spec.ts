import { expect, type Page } from "@playwright/test";
import sharp from "sharp";
import { expectAccessible, settled, signIn, test } from "./studio";

/** What a library gathers in time, and the terms under which it is held. */
test.describe.configure({ mode: "serial" });

let page: Page;
const stamp = Date.now();
const api = (path: string) => `/api/v1${path}`;
const headers = { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` };
async function made(path: string, data: object): Promise<string> {
  const response = await page.request.post(api(path), { headers, data });
  return ((await response.json()) as { id: string }).id;
}

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

test("of two collections that hold the same, one is kept", async () => {
  const material = await made("/materials", { name: `Weir ${stamp}`, layout: "plain", color: "#55636b" });
  for (const name of [`Weir ${stamp}`, `Weir again ${stamp}`]) {
    const id = await made("/collections", { name });
    await page.request.put(api(`/collections/${id}/materials`), { headers, data: { add: [material] } });
  }
  await page.goto("/library");
  await settled(page);
  await page.getByRole("button", { name: "More" }).click();
  await page.getByRole("link", { name: "What to tidy" }).click();
  await settled(page);
  await expectAccessible(page);
  const part = page.getByRole("region", { name: "Collections with the same contents" });
  await part.getByRole("button", { name: `Keep Weir ${stamp} alone` }).click();
  await expect(page.getByText(`Deleted: Weir again ${stamp}.`)).toBeVisible();
  await expect(part.getByRole("link", { name: `Weir ${stamp}` })).toHaveCount(0);
});

test("a download that was taken in twice is merged, and the originals are looked for", async () => {
  // A colour that no other run has.
  const background = {
    r: stamp % 251,
    g: Math.floor(stamp / 251) % 251,
    b: Math.floor(stamp / 63_001) % 251,
  };
  const buffer = await sharp({ create: { width: 64, height: 64, channels: 3, background } })
    .png()
    .toBuffer();
  for (const name of [`lock${stamp}_color.png`, `sluice${stamp}_color.png`]) {
    const form = { onClash: "keep-both", files: { name, mimeType: "image/png", buffer } };
    const response = await page.request.post(api("/intakes"), { headers, multipart: form });
    const { id } = (await response.json()) as { id: string };
    const state = async () =>
      ((await (await page.request.get(api(`/intakes/${id}`), { headers })).json()) as { state: string })
        .state;
    await expect.poll(state, { timeout: 60_000 }).toBe("review");
    await page.request.post(api(`/intakes/${id}/accept`), {
      headers,
      data: { all: true, onClash: "keep-both" },
    });
    await expect.poll(state, { timeout: 60_000 }).toBe("accepted");
  }
  await page.goto("/tidy");
  await settled(page);
  const row = page.locator(".tidy-row", { hasText: String(stamp) });
  await expect(row).toContainText("1 material of the intake");
  await row.getByRole("button", { name: "Merge them" }).click();
  await expect(page.getByText("1 merged.")).toBeVisible();
  await page.getByRole("button", { name: "Look for all originals" }).click();
  await expect(page.getByText(/Looked for \d+ files, .*: all are there/)).toBeVisible({ timeout: 60_000 });
});

test("a licence that ended is found, edited, and its change is put back", async () => {
  const id = await made("/materials", { name: `Ford ${stamp}`, layout: "plain", color: "#667755" });
  const name = `Ford terms ${stamp}`;
  await page.request.patch(api(`/materials/${id}/facts`), {
    headers,
    data: { licence: { name, endsOn: "2021-04-30" } },
  });
  await page.goto("/tidy");
  await expect(page.locator(".tidy-row", { hasText: name })).toContainText("ended 2021-04-30");
  await page.getByRole("link", { name, exact: true }).click();
  await expect(page.getByRole("heading", { name })).toBeVisible();
  await settled(page);
  await page.getByLabel("Last day", { exact: true }).fill("2041-04-30");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  const history = page.locator(".fact-history li").first();
  await expect(history).toContainText("Ines Marrow: last day 2021-04-30 2041-04-30");
  await expectAccessible(page);
  await history.getByRole("button", { name: /^Put back/ }).click();
  await expect(page.getByLabel("Last day", { exact: true })).toHaveValue("2021-04-30");
  await page.goto(`/materials/${id}/facts`);
  await settled(page);
  await expect(page.locator(".fact-history li")).toContainText(`licence none ${name}`);
});

test("who saves facts hears of what somebody else has changed meanwhile", async () => {
  const id = await made("/materials", { name: `Causeway ${stamp}`, layout: "plain", color: "#777766" });
  await page.goto(`/materials/${id}/facts`);
  await settled(page);
  await page.request.patch(api(`/materials/${id}/facts`), { headers, data: { supplier: "Tidal Works" } });
  await page.getByLabel("Product code").fill("C-4");
  await page.getByLabel("Supplier").fill("Skerry");
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText(/supplier was changed meanwhile: it is Tidal Works now/)).toBeVisible();
  await page.getByRole("button", { name: "Save" }).click();
  await expect(page.getByText("Saved.")).toBeVisible();
  const { source } = (await (await page.request.get(api(`/materials/${id}`), { headers })).json()) as {
    source: { supplier: string; productCode: string };
  };
  expect(source).toMatchObject({ supplier: "Skerry", productCode: "C-4" });
});
