import { expect, type Locator, type Page } from "@playwright/test";
import sharp from "sharp";
import { cropped, sampleSet } from "#core/judge/testing";
import { encode } from "#server/pixels/encode";
import { expectAccessible, settled, signIn, test, TOKEN } from "./studio";

/** A wall of more than a page: it goes on as it is scrolled, and stands where it was left. */
test.describe.configure({ mode: "serial" });

let page: Page;
// Behind all others by name, and of a colour that nobody else looks for.
const line = `Zzdunes${Date.now()}`;
const COUNT = 180;
const nameOf = (at: number) => `${line} ${String(at).padStart(3, "0")}`;
const wall = () => page.getByRole("list", { name: "Materials" });
const patch = (at: number) => page.getByRole("link", { name: `Open ${nameOf(at)}` });
const isInView = (of: Locator) =>
  of.evaluate((element) => {
    const { top, bottom } = element.getBoundingClientRect();
    return bottom > 0 && top < window.innerHeight;
  });

/** By a share of the wall, which turns out longer as its rows are measured: what is only drawn may go again. */
const scrollTo = (share: number, at: number) =>
  expect(async () => {
    await page.evaluate((of) => window.scrollTo(0, document.body.scrollHeight * of), share);
    await patch(at).scrollIntoViewIfNeeded({ timeout: 2000 });
    await expect(patch(at)).toBeInViewport({ timeout: 2000 });
  }).toPass({ timeout: 30_000 });

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
  const headers = { Authorization: `Bearer ${TOKEN}` };
  const rows = Array.from(
    { length: COUNT },
    (_, at) => `D${at};${nameOf(at)};#${(0x7020b0 + at).toString(16)}`,
  );
  const sent = await page.request.post("/api/v1/lines/import", {
    headers,
    multipart: {
      ...{ supplier: `${line} Paints`, line },
      file: {
        ...{ name: "dunes.csv", mimeType: "text/csv" },
        buffer: Buffer.from(["code;name;hex", ...rows].join("\n")),
      },
    },
  });
  const { id } = (await sent.json()) as { id: string };
  await expect
    .poll(
      async () =>
        ((await (await page.request.get(`/api/v1/jobs/${id}`, { headers })).json()) as { state: string })
          .state,
      { timeout: 90_000 },
    )
    .toBe("done");
});

test("it goes on to its end, and what was selected at its beginning stays selected", async () => {
  await page.goto(`/library?q=${line}`);
  await settled(page);
  await expect(page.getByText(`: ${COUNT} of`)).toBeVisible();
  await page.getByRole("checkbox", { name: `Select ${nameOf(0)}` }).check();
  // What nobody looks at is not drawn.
  expect(await wall().getByRole("listitem").count()).toBeLessThan(COUNT - 20);
  await scrollTo(1, COUNT - 1);
  await expect(patch(0)).toHaveCount(0);
  await page.getByRole("checkbox", { name: `Select ${nameOf(COUNT - 1)}` }).check();
  await expect(page.getByText("2 selected")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Select nothing" }).click();
});

test("what cannot be loaded is said where it would stand, and comes when it is asked for again", async () => {
  await page.goto(`/library?q=${line}`);
  await settled(page);
  await page.route("**/library/part*", (route) => route.abort());
  await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
  const failed = page.getByRole("alert").filter({ hasText: "could not be loaded" });
  await expect(failed).toBeInViewport();
  await expect(patch(COUNT - 1)).toHaveCount(0);
  await page.unroute("**/library/part*");
  await failed.getByRole("button", { name: "Try again" }).click();
  await expect(failed).toHaveCount(0);
  await scrollTo(1, COUNT - 1);
});

test("whoever comes back stands where they were, also after the page was loaded anew", async () => {
  await page.goto(`/library?q=${line}`);
  await settled(page);
  await scrollTo(0.5, 90);
  await patch(90).click();
  await expect(page.getByRole("heading", { name: nameOf(90) })).toBeVisible();
  await page.goBack();
  await expect(patch(90)).toBeVisible();
  await expect.poll(() => isInView(patch(90))).toBe(true);
  await page.reload();
  await settled(page);
  await expect.poll(() => isInView(patch(90))).toBe(true);
  // An address may say where it begins.
  await page.goto(`/library?q=${line}&page=3`);
  await settled(page);
  await expect.poll(() => isInView(patch(120))).toBe(true);
});

test("a picture finds what looks like it: chosen in the sentence, or dropped on the wall", async () => {
  const seen = await sharp(await encode(cropped(sampleSet("brick").base_color, 16, 8, 220, 220), "png"))
    .jpeg({ quality: 70 })
    .toBuffer();
  await page.goto("/library");
  await settled(page);
  await page
    .getByLabel("A picture that it looks like")
    .setInputFiles({ name: "seen.jpg", mimeType: "image/jpeg", buffer: seen });
  await page.waitForURL(/likePicture=/);
  await expect(page.getByRole("img", { name: "seen.jpg" })).toBeVisible({ timeout: 30_000 });
  // Other tests take the same wall in under a name of their own.
  await expect(wall().getByRole("listitem").first()).toContainText(/brick|quay wall/i);
  await page.getByRole("button", { name: "Leave out the picture" }).click();
  await expect(page).not.toHaveURL(/likePicture=/);
  const dropped = await page.evaluateHandle(() => {
    const data = new DataTransfer();
    data.items.add(new File(["nothing of the kind"], "words.png", { type: "image/png" }));
    return data;
  });
  await page.locator(".picture-drop").dispatchEvent("dragenter", { dataTransfer: dropped });
  await expect(page.getByText("Drop a picture to find what looks like it")).toBeVisible();
  await page.locator(".picture-drop").dispatchEvent("drop", { dataTransfer: dropped });
  await page.waitForURL(/likePicture=/);
  await expect(page.getByRole("alert")).toContainText("cannot be read as a picture", { timeout: 30_000 });
});
