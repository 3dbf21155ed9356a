import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

/** Products are found in the catalogue, compared, fetched and taken into the library. */
test.describe.configure({ mode: "serial" });

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "joost");
  await page.goto("/suppliers");
  await settled(page);
});

test("the sentence filters what is on offer", async () => {
  await expectAccessible(page);
  await page.getByLabel("Slip class").selectOption("R12");
  await expect(page.getByRole("search")).toContainText("3 of 19 lines");
  await page.getByLabel("Family").selectOption("tile");
  await expect(page.getByRole("article")).toHaveCount(2);
  const words = page.getByRole("searchbox");
  await words.pressSequentially("flags");
  await expect(page.getByRole("article")).toHaveCount(1);
  await expect(words).toBeFocused();
  await words.fill("nothing of the kind");
  await page.getByRole("link", { name: "Show everything" }).click();
  await expect(page.getByRole("search")).toContainText("19 of 19 lines");
  await expect(page.getByLabel("Slip class")).toHaveValue("");
});

test("lines are compared with what differs marked", async () => {
  await page.getByLabel("compare Slipstone").check();
  await page.getByLabel("compare Ledge flags").check();
  await page.getByRole("button", { name: "Compare 2 side by side" }).click();
  await expect(page.getByRole("row", { name: /Slip \(DIN 51130\).*differs/ })).toContainText("R12");
  await expect(page.getByRole("row", { name: /^Family/ })).not.toContainText("differs");
  await expectAccessible(page);
  await page.getByRole("link", { name: "Ledge flags" }).click();
  await page.waitForURL("**/suppliers/dark-flags");
});

test("a variant is fetched with its facts, and is then marked as held", async () => {
  await settled(page);
  await expectAccessible(page);
  await page.getByRole("button", { name: "Tick none" }).click();
  await page.getByLabel("chalk joint of Ledge flags, moor").check();
  await page.getByLabel("512").check();
  await page.getByRole("button", { name: "Fetch 1 variant" }).click();
  await page.waitForURL("**/intakes/*-*");
  const candidate = page.getByRole("region", { name: "Ledge flags, moor, chalk joint" });
  await expect(candidate).toContainText("3 × 3 in the picture: its size is taken over", { timeout: 90_000 });
  await candidate.getByRole("button", { name: "Accept", exact: true }).click();
  await page.getByRole("alert").getByRole("link", { name: "Ledge flags, moor, chalk joint" }).click();
  await expect(page.getByRole("complementary", { name: "Work order" })).toContainText(
    "1200 × 1200 mm, known",
  );
  await page.goto("/suppliers/dark-flags");
  await expect(page.getByRole("listitem").filter({ hasText: "moor" })).toContainText("in the library");

  // On the page of its line it stands among those that are on offer, each of which leads to its own tick.
  await page.goto("/lines");
  await page.getByRole("link", { name: /^Ledge flags/ }).click();
  await settled(page);
  await expect(page.getByRole("button", { name: /Ledge flags, moor/ })).toBeVisible();
  await expectAccessible(page);
  const offered = page.getByRole("link", { name: /on offer$/ });
  const name = (await offered.first().locator(".color-name").textContent())!;
  await offered.first().click();
  await page.waitForURL("**/suppliers/dark-flags?**");
  await settled(page);
  await expect(page.getByRole("checkbox", { checked: true }).and(page.getByLabel(/ joint of /))).toHaveCount(
    1,
  );
  expect(name).toMatch(/^Ledge flags, .* with /);
});

test("a plain colour is found by its name and taken", async () => {
  await page.goto("/suppliers/loom-joinery");
  await settled(page);
  await page.getByPlaceholder("find a colour or code").fill("deep lagoon bright");
  await page.getByLabel(/take of Loom \d+ deep lagoon, bright/).check();
  await page.getByRole("button", { name: "Fetch 1 variant" }).click();
  await page.waitForURL("**/intakes/*-*");
  await page.getByRole("button", { name: "Accept", exact: true }).click({ timeout: 90_000 });
  await expect(page.getByRole("alert")).toContainText("deep lagoon, bright");
});
