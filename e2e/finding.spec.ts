import { expect } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

test("what is brown is found by that word, and what is typed wrongly by what it was meant to be", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  await page.goto("/library");
  await settled(page);
  const words = page.getByRole("searchbox", { name: /^Words in name/ });
  const wall = page.getByRole("list", { name: "Materials" });
  await words.fill("brown");
  await expect(wall.getByText("Smoked ash floor")).toBeVisible();
  await expect(wall.getByText("Cast wall")).toHaveCount(0);
  await words.fill("pale grey");
  await expect(wall.getByText("Hemp plaster")).toBeVisible();
  await words.fill("brikc");
  await expect(page.getByText("Nothing here is called “brikc”: showing brick.")).toBeVisible();
  await expect(wall.getByText("Harbour brick, flint")).toBeVisible();
  await expectAccessible(page);
  await words.fill("qqqqq");
  await expect(page.getByText("Nothing here is called “qqqqq”, nor anything a letter away")).toBeVisible();
  await words.fill("");
  await page.getByLabel("Order").selectOption({ label: "by colour" });
  await page.waitForURL(/sort=color/);
  const names = wall.getByRole("listitem");
  await expect(names.first()).toContainText(/Clear pane|Sailcloth white|Chalk/);
});

test("the sentence says more and more, by family, colour and what is missing, and is kept for everybody", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  await page.goto("/library");
  await settled(page);
  const wall = page.getByRole("list", { name: "Materials" });
  const sentence = page.getByRole("search");
  await page.getByLabel("Family", { exact: true }).selectOption("timber");
  await page.waitForURL(/family=timber/);
  await expect(wall.getByText("Pale oak floor")).toBeVisible();
  await expect(wall.getByText("Cast wall")).toHaveCount(0);
  await sentence.getByRole("button", { name: "Add to the sentence" }).click();
  await sentence.getByRole("button", { name: "a colour", exact: true }).click();
  await page.waitForURL(/color=/);
  await expect(page.getByLabel("Colour", { exact: true })).toBeFocused();
  await page.getByLabel("Colour", { exact: true }).fill("#53443a");
  await page.getByLabel("How near to the colour").selectOption({ label: "or anywhere near it" });
  await expect(wall.getByText("Smoked ash floor")).toBeVisible();
  await expect(wall.getByText("Pale oak floor")).toHaveCount(0);
  await expectAccessible(page);
  // What the address says stands in the sentence when somebody comes back to it.
  await page.reload();
  await settled(page);
  await expect(page.getByLabel("Colour", { exact: true })).toHaveValue("#53443a");
  const name = `Dark woods ${Date.now()}`;
  await page.getByRole("button", { name: "Saved searches" }).click();
  await page.getByLabel("Name of this search").fill(name);
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await expect(page.getByRole("link", { name })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: "Leave out a colour" }).click();
  await expect(wall.getByText("Pale oak floor")).toBeVisible();
  await page.getByRole("link", { name: "Show all" }).click();
  await expect(page.getByLabel("Family", { exact: true })).toHaveValue("");
  await expect(wall.getByText("Cast wall")).toBeVisible();
  // Whoever else works here finds it too.
  const other = await signIn(browser, "joost");
  await other.goto("/library");
  await settled(other);
  await other.getByRole("button", { name: "Saved searches" }).click();
  await other.getByRole("link", { name }).click();
  await expect(other.getByRole("list", { name: "Materials" }).getByRole("listitem")).toHaveCount(1);
  await page.getByRole("button", { name: "Saved searches" }).click();
  page.on("dialog", (dialog) => void dialog.accept());
  await page.getByRole("button", { name: `Delete the search “${name}”` }).click();
  await expect(page.getByRole("link", { name })).toHaveCount(0);
});

test("where nothing fits, the way to what would is a click", async ({ browser }) => {
  const page = await signIn(browser, "ines");
  await page.goto("/library?q=harbour&family=timber");
  await settled(page);
  await expect(page.getByText("Nothing fits")).toBeVisible();
  await page.getByRole("link", { name: /^Without the family \d+ fit/ }).click();
  await expect(page.getByRole("link", { name: "Open Harbour brick, red" })).toBeVisible();
  await expect(page.getByLabel("Family", { exact: true })).toHaveValue("");
});

test("what looks like a brick wall is brick walls", async ({ browser }) => {
  const page = await signIn(browser, "ines");
  await page.goto("/library?q=harbour+flint");
  await page.getByRole("link", { name: "Open Harbour brick, flint" }).click();
  await page.getByRole("link", { name: "what looks like this" }).click();
  await page.waitForURL(/like=/);
  const names = page.getByRole("list", { name: "Materials" }).getByRole("listitem");
  await expect(names.nth(0)).toContainText("Harbour brick, flint");
  // Which of the brick walls comes first is left open: other tests take in some of their own.
  await expect(names.filter({ hasText: "Harbour brick, red" })).toBeVisible();
  await expect(names.nth(1)).toContainText("brick");
});
