import AxeBuilder from "@axe-core/playwright";
import {
  test as base,
  expect,
  type Browser,
  type BrowserContext,
  type BrowserContextOptions,
  type Page,
} from "@playwright/test";
import yazl from "yazl";
import { cropped, sampleSet } from "#core/judge/testing";
import type { Raster } from "#core/raster/raster";
import { brick } from "#core/pattern/brick";
import { renderPattern } from "#core/pattern/patternSet";
import { encode } from "#server/pixels/encode";

export const TOKEN = process.env.KALONOMY_DEMO_TOKEN ?? "";

/** How the browser puts it that the router gave up a load because the next one had begun, before its answer came or while it did. */
const GIVEN_UP = ["BodyStreamBuffer was aborted", "signal is aborted without reason"];

/** The screens that people sit at, by the file of tests that opened them. */
const opened = new Map<BrowserContext, string>();

/** A screen that nobody looks at any more goes on listening and loading: those of a test end with it, those of a file with that. */
export const test = base.extend<{ closing: void }>({
  closing: [
    async ({}, use, { file }) => {
      const close = async (isOver: (context: BrowserContext) => boolean) => {
        for (const context of [...opened.keys()].filter(isOver)) {
          opened.delete(context);
          await context.close();
        }
      };
      await close((context) => opened.get(context) !== file);
      const before = new Set(opened.keys());
      await use();
      await close((context) => !before.has(context));
    },
    { auto: true },
  ],
});

/** A screen of its own, at which nobody has signed in. */
export async function newScreen(browser: Browser, options: BrowserContextOptions = {}): Promise<Page> {
  const context = await browser.newContext(options);
  opened.set(context, base.info().file);
  return context.newPage();
}

/** A person at a screen of their own. */
export async function signIn(browser: Browser, who: "ines" | "joost" | "guest"): Promise<Page> {
  const page = await newScreen(browser);
  // What the content security policy blocks, or a script throws, fails the test that is looking.
  page.on("pageerror", (error) => {
    if (!GIVEN_UP.includes(error.message)) expect(error.message, "an error in the page").toBe("");
  });
  page.on("console", (message) => {
    if (message.type() === "error" && /Content Security Policy|hydrat/i.test(message.text()))
      expect(message.text()).toBe("");
  });
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill(`${who}@tern-gable.example`);
  await page.getByLabel("Password").fill(process.env.KALONOMY_DEMO_PASSWORD ?? "");
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL("**/library");
  await settled(page);
  return page;
}

/** Scripts run: React has taken over what the server drew. */
export async function settled(page: Page): Promise<void> {
  await page.waitForLoadState("load");
  await page.waitForFunction(
    () =>
      Object.keys(document.body).some((key) => key.startsWith("__react")) ||
      document.querySelector("main") !== null,
  );
  await page.waitForTimeout(300);
}

/** Types a value of a finish, unfolding its clause where it is folded. */
export async function typeValue(page: Page, name: string, text: string): Promise<void> {
  const box = page.locator(`[name][aria-label="${name}"]`);
  const clause = page.locator("details.clause").filter({ has: box });
  if ((await clause.getAttribute("open")) === null) {
    const group = page.locator("details.clauses").filter({ has: clause });
    if ((await group.getAttribute("open")) === null) await group.locator("> summary").click();
    await clause.locator("> summary").click();
  }
  await box.fill(text);
}

/** axe finds nothing serious on the page as it is. */
export async function expectAccessible(page: Page): Promise<void> {
  // A colour that is on its way to another has no contrast that anybody reads: none sets out, and those on their way arrive.
  await page.emulateMedia({ reducedMotion: "reduce" });
  await page.waitForFunction(() =>
    document
      .getAnimations()
      .every(
        ({ playState, effect }) => playState !== "running" || effect?.getTiming().iterations === Infinity,
      ),
  );
  // No page has frames, and what is well needs no telling: a page of a wall takes a second in place of six.
  const { violations } = await new AxeBuilder({ page })
    .options({
      resultTypes: ["violations"],
      runOnly: { type: "tag", values: ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"] },
    })
    .setLegacyMode(true)
    .analyze();
  await page.emulateMedia({ reducedMotion: null });
  const serious = violations.filter(({ impact }) => impact === "serious" || impact === "critical");
  expect(
    serious.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .map(({ html }) => html)
          .slice(0, 3)
          .join(" | ")}`,
    ),
  ).toEqual([]);
}

/** A set of three maps whose picture was cut at an odd place, and so is not seamless. */
export async function croppedSet(): Promise<Record<string, Buffer>> {
  const set = sampleSet("brick");
  const part = (map: Raster) => encode(cropped(map, 13, 17, 229, 213), "png");
  return {
    "quay_wall_basecolor.png": await part(set.base_color),
    "quay_wall_normal_dx.png": await part(set.geometry_normal),
    "quay_wall_roughness.png": await part(set.specular_roughness),
  };
}

/** A download as a texture site would make it: paving, four blocks across and eight courses up, with a stray text file. */
export async function pavingZip(): Promise<Buffer> {
  const { surface, repeat } = brick({
    seed: 3,
    brick: { width: 200, height: 100 },
    joint: 3,
    across: 4,
    courses: 8,
    colors: ["#7d6f66", "#8a7a6e"],
    mortar: "#5c554d",
    recess: 3,
    roughness: 0.3,
  });
  const set = renderPattern(surface, { repeat, widthPx: 256, heightPx: 256 });
  const zip = new yazl.ZipFile();
  zip.addBuffer(await encode(set.base_color, "png"), "yard_paving.png");
  zip.addBuffer(await encode(set.geometry_normal, "png"), "yard_paving_nm.png");
  zip.addBuffer(await encode(set.specular_roughness, "png"), "yard_paving_sm.png");
  zip.addBuffer(await encode(set.ambient_occlusion, "png"), "yard_paving_ao.png");
  zip.addBuffer(await encode(set.height, "png"), "yard_paving_height.png");
  zip.addBuffer(Buffer.from("Thank you for downloading"), "readme.txt");
  zip.end();
  const chunks: Buffer[] = [];
  for await (const chunk of zip.outputStream) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}
