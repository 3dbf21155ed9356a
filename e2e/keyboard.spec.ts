import { expect, type Page } from "@playwright/test";
import { settled, signIn, test, newScreen } from "./studio";

/** Everything can be done without a pointer, and what has the focus can be seen. */

/** Presses Tab until the focus is on what is wanted. */
async function tabTo(
  page: Page,
  wanted: (element: { role: string; name: string }) => boolean,
  limit = 80,
): Promise<void> {
  for (let presses = 0; presses < limit; presses++) {
    await page.keyboard.press("Tab");
    const focused = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement;
      const label =
        element.getAttribute("aria-label") ??
        (element as HTMLInputElement).labels?.[0]?.textContent ??
        element.textContent ??
        "";
      return { role: element.tagName.toLowerCase(), name: label.trim() };
    });
    if (wanted(focused)) return;
  }
  throw new Error("Tab never came there.");
}

const focusIsVisible = (page: Page) =>
  page.evaluate(() => {
    const style = getComputedStyle(document.activeElement!);
    return (
      (style.outlineStyle !== "none" && parseFloat(style.outlineWidth) >= 1) || style.boxShadow !== "none"
    );
  });

test("from signing in to a measured size, by keys alone", async ({ browser }) => {
  const page = await newScreen(browser);
  await page.goto("/sign-in");
  await settled(page);
  await page.getByLabel("E-mail").focus();
  await page.keyboard.type("joost@tern-gable.example");
  await page.keyboard.press("Tab");
  await page.keyboard.type(process.env.KALONOMY_DEMO_PASSWORD ?? "");
  await page.keyboard.press("Enter");
  await page.waitForURL("**/library");
  await settled(page);

  await page.keyboard.press("Tab");
  await expect(page.getByRole("link", { name: "To the content" })).toBeFocused();
  await page.keyboard.press("Enter");
  await tabTo(page, ({ name }) => name.startsWith("Words in name"));
  await page.keyboard.type("wheat");
  await expect(page.getByRole("list", { name: "Materials" }).getByRole("listitem")).toHaveCount(1);
  await tabTo(page, ({ name }) => name.startsWith("Open Wheat lime"));
  expect(await focusIsVisible(page)).toBe(true);
  await page.keyboard.press("Enter");
  await page.waitForURL("**/materials/*");
  // The address comes before what it shows.
  await expect(page.getByRole("navigation", { name: "Steps" })).toBeVisible();
  await tabTo(page, ({ role, name }) => role === "a" && name.startsWith("Gauge"));
  await page.keyboard.press("Enter");
  await page.waitForURL("**/gauge");
  await expect(page.getByLabel("Way to the size")).toBeVisible();

  await tabTo(page, ({ name }) => name === "Way to the size");
  await page.keyboard.press("o");
  await expect(page.getByLabel("Way to the size")).toHaveValue("size");
  await tabTo(page, ({ name }) => name === "Width");
  await page.keyboard.type("3' 11 1/4\"");
  await expect(page.locator(".gauge-size")).toHaveText("1200.2 × 1200.2 mm");
  await tabTo(page, ({ name }) => name.startsWith("This is a guess"));
  await page.keyboard.press("Space");
  await expect(page.getByLabel("This is a guess")).toBeChecked();
  await tabTo(page, ({ role, name }) => role === "button" && name === "Save this size");
  expect(await focusIsVisible(page)).toBe(true);
  await page.keyboard.press("Enter");
  await expect(page.getByText(/Saved as revision \d+: 1200.2 × 1200.2 mm, assumed\./)).toBeVisible();
});

test("an image is moved and zoomed by keys, and typed points measure", async ({ browser }) => {
  const page = await signIn(browser, "joost");
  await page.goto("/library?q=quay+paver");
  await page.getByRole("link", { name: "Open Quay paver" }).click();
  await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Gauge" }).click();
  await expect(page.getByLabel("Way to the size")).toBeVisible();
  const surface = page.locator(".table-surface");
  await expect(surface.locator("img")).toBeVisible();
  // The tools that come with what was counted take room from the picture.
  await expect(page.getByText(/The program counts|Nothing in it repeats|No modules were found/)).toBeVisible({
    timeout: 90_000,
  });
  const box = async () => (await surface.locator("img").boundingBox())!;
  const whole = await box();
  await surface.focus();
  await page.keyboard.press("+");
  await expect.poll(async () => (await box()).width).toBeCloseTo(whole.width * 1.25, 0);
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("-");
  await page.keyboard.press("0");
  await expect.poll(async () => (await box()).x).toBeCloseTo(whole.x, 0);

  await page.getByLabel("Way to the size").selectOption("lines");
  await page.getByLabel("Line 1, from, across").fill("0");
  await page.getByLabel("Line 1, from, down").fill("10");
  await page.getByLabel("Line 1, to, across").fill("64");
  await page.getByLabel("Line 1, to, down").fill("10");
  await page.getByLabel("Line 1, real length").fill("203");
  await expect(page.locator(".gauge-result")).toContainText("nothing is stretched");
  await page.getByLabel("Line 1, to, across").fill("999999");
  await expect(page.getByRole("alert")).toContainText("outside the image");
  await expect(page.getByRole("button", { name: "Save this size" })).toBeDisabled();
});

test("pages that are not there, and ids that are none, say so within the sheet", async ({ browser }) => {
  const page = await signIn(browser, "joost");
  for (const path of [
    "/nowhere",
    "/materials/not-an-id",
    "/projects/00000000-0000-4000-8000-000000000000",
    "/deliveries/x/y",
  ]) {
    const response = await page.goto(path);
    expect(response!.status(), path).toBe(404);
    await expect(page.getByRole("heading", { name: "Nothing here" })).toBeVisible();
    await expect(page.getByRole("navigation", { name: "Places" })).toBeVisible();
  }
});

test("the unit and the ground belong to the person who looks", async ({ browser }) => {
  const page = await signIn(browser, "joost");
  await page.getByLabel("Unit").selectOption("cm");
  await expect(page.getByRole("listitem").filter({ hasText: "Harbour brick, red" })).toContainText(
    "90 × 90 cm",
  );
  await page.getByRole("button", { name: "Grey ground" }).click();
  await expect(page.locator(".samples")).toHaveClass(/on-grey/);
  await page.reload();
  await expect(page.getByLabel("Unit")).toHaveValue("cm");
  await expect(page.locator(".samples")).toHaveClass(/on-grey/);
  const other = await signIn(browser, "ines");
  await expect(other.getByLabel("Unit")).toHaveValue("mm");
  await page.getByLabel("Unit").selectOption("mm");
  await expect(page.getByRole("listitem").filter({ hasText: "Harbour brick, red" })).toContainText(
    "900 × 900 mm",
  );
});
