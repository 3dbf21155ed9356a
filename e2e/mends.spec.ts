import { expect } from "@playwright/test";
import { cropped } from "#core/judge/testing";
import { brick } from "#core/pattern/brick";
import { renderPattern } from "#core/pattern/patternSet";
import { encode } from "#server/pixels/encode";
import { expectAccessible, settled, signIn, test, TOKEN } from "./studio";

/** Seams of several materials, mended in one act, looked at, kept, and taken back. */
const stamp = Date.now();
const headers = { Authorization: `Bearer ${TOKEN}` };

/** A wall that does not continue at its edges, as no other run has it. */
function cutWall(seed: number): Promise<Buffer> {
  const { surface, repeat } = brick({
    ...{ seed, brick: { width: 215, height: 65 }, joint: 10, across: 3, courses: 8 },
    ...{ colors: ["#8b8577", "#6d6a60"], mortar: "#c4bbad", recess: 4, roughness: 0.4 },
  });
  const { base_color } = renderPattern(surface, { repeat, widthPx: 225, heightPx: 200 });
  return encode(cropped(base_color, 9, 7, 190, 171), "png");
}

test("two walls are mended, shown tiled before and after, kept in one act, and taken back", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const files = await Promise.all([0, 1].map((n) => cutWall((stamp % 1e6) + n)));
  for (const [n, buffer] of files.entries()) {
    const name = `mole${stamp}_${n}_basecolor.png`;
    const sent = await page.request.post("/api/v1/intakes", {
      headers,
      multipart: { files: { name, mimeType: "image/png", buffer } },
    });
    const { id } = (await sent.json()) as { id: string };
    const state = async () =>
      ((await (await page.request.get(`/api/v1/intakes/${id}`, { headers })).json()) as { state: string })
        .state;
    await expect.poll(state, { timeout: 60_000 }).toBe("review");
    await page.request.post(`/api/v1/intakes/${id}/accept`, {
      headers,
      data: { all: true, onClash: "keep-both" },
    });
  }
  await page.goto(`/library?q=mole${stamp}`);
  await settled(page);
  await page.getByRole("button", { name: "Select all 2" }).click();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("button", { name: "Mend seams" }).click();
  await expect(page.getByText("2 are mended, and wait to be looked at.")).toBeVisible();
  await page.getByRole("link", { name: "Look", exact: true }).click();
  await settled(page);
  const own = page
    .getByRole("list", { name: "Mended" })
    .getByRole("listitem")
    .filter({ hasText: String(stamp) });
  await expect(own.getByText("mended", { exact: true })).toHaveCount(2, { timeout: 60_000 });
  await expect(own.getByRole("img")).toHaveCount(4);
  await expect(own.getByRole("img", { name: /does not seem to continue/ })).toHaveCount(2);
  await expectAccessible(page);
  // Others may have mends that wait: those are left.
  await page.getByRole("button", { name: "Tick none" }).click();
  for (const box of await own.getByRole("checkbox").all()) await box.check();
  await page.getByRole("button", { name: "Keep 2" }).click();
  await expect(page.getByText("2 changed")).toBeVisible({ timeout: 30_000 });
  await expect(own).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("2 taken back")).toBeVisible({ timeout: 30_000 });
});
