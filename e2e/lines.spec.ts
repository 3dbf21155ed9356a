import { expect, type Page } from "@playwright/test";
import { expectAccessible, settled, signIn, test } from "./studio";

/** Lists of coded colours that become lines, and one variant in place of another. */
test.describe.configure({ mode: "serial" });

let page: Page;
const line = `Shoals ${Date.now()}`;
const list = (rows: string[]) => ({
  name: `${line}.csv`,
  mimeType: "text/csv",
  // As a spreadsheet on Windows writes it.
  buffer: Buffer.from(["Farbtafel;;;;", "Nummer;Ton;Wert;Glanzstufe", ...rows].join("\r\n"), "latin1"),
});
const SHADES = Array.from(
  { length: 12 },
  (_, i) => `S${i};Grün ${i};#${(0x203020 + i * 0x080a08).toString(16).padStart(6, "0")};matt`,
);

test.beforeAll(async ({ browser }) => {
  page = await signIn(browser, "ines");
});

async function handIn(rows: string[]) {
  await page.goto("/lines");
  await settled(page);
  await page.getByLabel("The list (.csv, .xlsx)").setInputFiles(list(rows));
  await page.getByLabel("Supplier", { exact: true }).fill("Shoal Paints");
  await page.getByRole("button", { name: "Read the list" }).click();
  await page.waitForURL("**/color-lists/*-*");
  await expect(page.getByRole("heading", { name: "How it is read" })).toBeVisible({ timeout: 60_000 });
  await settled(page);
}

test("a list is looked at, its columns are corrected, and it becomes a line", async () => {
  await handIn([...SHADES, "S99;Zu kurz;#12;matt"]);
  // Nobody calls a colour “Wert”: what stands in it tells, and so does a name in “Ton”.
  await expect(page.getByLabel("Column 3, Wert, says")).toHaveValue("hex");
  await page.getByLabel("Column 2, Ton, says").selectOption("nothing that is used");
  await page.getByRole("button", { name: "Read again" }).click();
  await expect(page.locator(".color-card .color-name").first()).toHaveText("S0");
  await expect(page.getByLabel("Column 2, Ton, says")).toHaveValue("");
  await page.getByLabel("Column 2, Ton, says").selectOption("name");
  await page.getByRole("button", { name: "Read again" }).click();
  await expect(page.locator(".color-card .color-name").first()).toHaveText("Grün 0");
  await expect(page.getByLabel("Column 2, Ton, says")).toHaveValue("name");
  await expect(page.locator(".color-card li")).toHaveCount(12);
  await expect(page.getByText("1 row is no colour")).toBeVisible();
  await expect(page.getByText("“#12” is not a colour")).toBeVisible();
  await expectAccessible(page);
  await page.getByRole("button", { name: "Make 12" }).click();
  await expect(page.getByText("12 made.")).toBeVisible({ timeout: 60_000 });
  await page.getByRole("link", { name: "Open the line" }).click();
  await expect(page.getByRole("heading", { name: line })).toBeVisible();
  await expect(page.locator(".variant-cell button")).toHaveCount(12);
});

test("the next list changes what it changed, shows both colours first, and is taken back", async () => {
  const [first, ...rest] = SHADES;
  await handIn([first.replace("#203020", "#205030"), ...rest, "S20;Schaum;#eef4f0;matt"]);
  await expect(page.getByText("1 is new, 1 would change, 11 are there as listed.")).toBeVisible();
  const changed = page.locator(".color-card li", { hasText: "S0 " }).first();
  await expect(changed).toContainText("colour #203020 → #205030");
  await expect(changed.locator(".swatch")).toHaveAttribute(
    "style",
    /linear-gradient.*rgb\(32, 48, 32\).*rgb\(32, 80, 48\)/,
  );
  await page.getByRole("button", { name: "Make 1, change 1" }).click();
  await expect(page.getByText("1 made, 1 changed, 11 as they were.")).toBeVisible({ timeout: 60_000 });
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText("11 as they were, 2 taken back.")).toBeVisible({ timeout: 60_000 });
});

test("one variant takes the places of another, which are said before", async () => {
  const wall = `/library?${new URLSearchParams({ line })}`;
  const project = `Jetty ${line}`;
  const made = await page.request.post("/api/v1/projects", {
    headers: { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` },
    data: { name: project },
  });
  const { id } = (await made.json()) as { id: string };
  await page.goto(wall);
  await settled(page);
  await page.getByRole("link", { name: "Open Grün 3", exact: true }).click();
  await page.getByRole("link", { name: line }).click();
  await expect(page.getByRole("heading", { name: line })).toBeVisible();
  await settled(page);
  const three = page.getByRole("button", { name: /^Grün 3 / });
  await three.click();
  const swap = page.getByRole("region", { name: "Grün 3" });
  await expect(swap).toContainText("In no project and no collection.");
  await expect(swap.getByLabel("Swap it for")).toBeDisabled();
  const material = (await swap.getByRole("link", { name: "Grün 3" }).getAttribute("href"))!.split("/").pop();
  await page.request.put(`/api/v1/projects/${id}/materials`, {
    headers: { Authorization: `Bearer ${process.env.KALONOMY_DEMO_TOKEN}` },
    data: { add: [material] },
  });
  // It is heard of without loading the page again.
  await expect(swap).toContainText(`In the project ${project}.`);
  await swap.getByLabel("Swap it for").selectOption({ label: "Grün 5 (S5)" });
  await expect(swap).toContainText("1 would change");
  await expectAccessible(page);
  await swap.getByRole("button", { name: "Swap everywhere" }).click();
  await expect(swap).toContainText("1 changed");
  await page.goto(`/projects/${id}`);
  await expect(page.getByRole("link", { name: "Open Grün 5" })).toBeVisible();
  await expect(page.getByRole("link", { name: "Open Grün 3" })).toHaveCount(0);
});
