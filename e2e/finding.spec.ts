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
