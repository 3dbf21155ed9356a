import { expect } from "@playwright/test";
import { expectAccessible, settled, signIn, TOKEN, test, newScreen } from "./studio";

const PLACES = [
  "/",
  "/library",
  "/intakes",
  "/collections",
  "/projects",
  "/deliveries",
  "/deliveries/new",
  "/destinations",
  "/profiles",
  "/people",
  "/me",
  "/upkeep",
  "/materials/00000000-0000-4000-8000-000000000000",
];

test("a signed-out person reaches nothing, and comes back after signing in", async ({ page, request }) => {
  for (const place of PLACES) {
    await page.goto(place);
    expect(new URL(page.url()).pathname, place).toBe("/sign-in");
  }
  await expectAccessible(page);
  for (const path of [
    "/api/v1/materials",
    "/api/v1/events",
    `/files/${"a".repeat(64)}`,
    `/previews/${"a".repeat(64)}/color/64`,
  ])
    expect((await request.get(path)).status(), path).toBe(401);
  // The data that a screen loads by itself is kept back as well.
  const data = await request.get("/library.data");
  expect(await data.text()).not.toContain("Harbour brick");

  await page.goto("/projects");
  await page.getByLabel("E-mail").fill("guest@tern-gable.example");
  await page.getByLabel("Password").fill("wrong password");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("alert")).toContainText("not right");
  await page.getByLabel("Password").fill(process.env.KALONOMY_DEMO_PASSWORD ?? "");
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL("**/projects");
});

test("somebody who looks can look, and change nothing", async ({ browser }) => {
  const page = await signIn(browser, "guest");
  await expect(page.getByText("Harbour brick, red")).toBeVisible();
  await expect(page.getByRole("link", { name: "Take textures in" })).toHaveCount(0);
  await page.getByRole("link", { name: "Open Harbour brick, red" }).click();
  await page.getByRole("navigation", { name: "Steps" }).getByRole("link", { name: "Gauge" }).click();
  await expect(page.getByRole("button", { name: "Save this size" })).toBeDisabled();
  const statuses = await page.evaluate(async () => {
    const post = async (path: string, body: BodyInit) => (await fetch(path, { method: "POST", body })).status;
    return [
      await post("/collections", new URLSearchParams({ name: "Sneaked in" })),
      await post("/api/v1/intakes", new FormData()),
      await post(
        "/people",
        new URLSearchParams({
          intent: "add",
          name: "x",
          email: "x@x.example",
          password: "long enough now",
          level: "keep",
        }),
      ),
    ];
  });
  expect(statuses).toEqual([403, 403, 403]);
  await page.goto("/collections");
  await expect(page.getByText("Sneaked in")).toHaveCount(0);
});

test("pages carry a policy that runs only our own scripts, and other sites cannot act for a visitor", async ({
  browser,
  request,
}) => {
  const policy = (await request.get("/sign-in")).headers()["content-security-policy"];
  expect(policy).toMatch(/script-src 'self' 'nonce-[^']+'/);
  expect(policy).not.toMatch(/script-src[^;]*unsafe/);
  const page = await signIn(browser, "ines");
  const forged = await page.request.post("/collections", {
    form: { name: "Forged" },
    headers: { Origin: "https://elsewhere.example" },
  });
  expect(forged.status()).toBe(403);
});

test("a form that is sent before any script has come is taken", async ({ browser }) => {
  const page = await newScreen(browser, { javaScriptEnabled: false });
  await page.goto("/sign-in");
  await page.getByLabel("E-mail").fill("guest@tern-gable.example");
  await page.getByLabel("Password").fill(process.env.KALONOMY_DEMO_PASSWORD ?? "");
  await page.getByRole("button", { name: "Sign in" }).click();
  await page.waitForURL("**/library");
  await expect(page.getByText("Harbour brick, red")).toBeVisible();
});

test("previews are kept by browsers, and original files come in parts", async ({ browser, request }) => {
  const page = await signIn(browser, "ines");
  const list = await (
    await request.get("/api/v1/materials?q=harbour", { headers: { Authorization: `Bearer ${TOKEN}` } })
  ).json();
  const material = await (
    await request.get(`/api/v1/materials/${list.items[0].id}`, {
      headers: { Authorization: `Bearer ${TOKEN}` },
    })
  ).json();
  const { sha256 } = material.maps[0];
  const part = await page.request.get(`/files/${sha256}`, { headers: { Range: "bytes=1-3" } });
  expect(part.status()).toBe(206);
  expect((await part.body()).toString()).toBe("PNG");
  const preview = await page.request.get(`/previews/${sha256}/color/64`);
  expect(preview.headers()["cache-control"]).toContain("immutable");
  expect(preview.headers()["content-type"]).toMatch(/^image\/(jpeg|png)$/);
  expect((await page.request.get(`/previews/${sha256}/color/65`)).status()).toBe(404);
});

test("scripts and styles come packed, and are kept by browsers for good", async ({ request }) => {
  const page = await (await request.get("/sign-in")).text();
  for (const name of [/\/assets\/entry\.client[^"]+\.js/, /\/assets\/root[^"]+\.css/]) {
    const headers = (await request.get(name.exec(page)![0])).headers();
    expect(headers["content-encoding"]).toBe("br");
    expect(headers["cache-control"]).toContain("immutable");
  }
});

test("a keeper adds people, and a token is shown once", async ({ browser }) => {
  const page = await signIn(browser, "ines");
  await page.goto("/people");
  await settled(page);
  await expectAccessible(page);
  await page.getByLabel("Name", { exact: true }).fill("New Colleague");
  await page.getByLabel("E-mail").fill(`new-${Date.now()}@studio.example`);
  await page.getByLabel("First password").fill("a first password");
  await page.getByRole("button", { name: "Add" }).click();
  await expect(page.getByRole("cell", { name: "New Colleague" }).first()).toBeVisible();
  await page.goto("/me");
  await settled(page);
  await expectAccessible(page);
  await page.getByLabel("What the token is for").fill("night script");
  await page.getByRole("button", { name: "Create token" }).click();
  const token = await page.locator("code.token").textContent();
  expect(
    (await page.request.get("/api/v1/profiles", { headers: { Authorization: `Bearer ${token}` } })).status(),
  ).toBe(200);
  await page.reload();
  await expect(page.locator("code.token")).toHaveCount(0);
  await page.goto("/profiles");
  await expectAccessible(page);
});

test("a person changes their password; a keeper changes levels, gives a new password and retires", async ({
  browser,
}) => {
  const keeper = await signIn(browser, "ines");
  const email = `short-lived-${Date.now()}@studio.example`;
  await keeper.goto("/people");
  await settled(keeper);
  await keeper.getByLabel("Name", { exact: true }).fill("Short Lived");
  await keeper.getByLabel("E-mail").fill(email);
  await keeper.getByLabel("First password").fill("a first password");
  await keeper.getByRole("button", { name: "Add" }).click();
  await expect(keeper.getByRole("status").filter({ hasText: "can sign in" })).toBeVisible();

  const page = await newScreen(browser);
  const enter = async (password: string) => {
    await page.goto("/sign-in");
    await page.getByLabel("E-mail").fill(email);
    await page.getByLabel("Password").fill(password);
    await page.getByRole("button", { name: "Sign in" }).click();
  };
  await enter("a first password");
  await page.waitForURL("**/library");
  await page.goto("/me");
  await settled(page);
  const change = async (now: string) => {
    await page.getByLabel("Present password").fill(now);
    await page.getByLabel("New password", { exact: true }).fill("a second password");
    await page.getByLabel("New password, again").fill("a second password");
    await page.getByRole("button", { name: "Change" }).click();
  };
  await change("guessed it");
  await expect(page.getByRole("alert")).toContainText("not your present password");
  await change("a first password");
  await expect(page.getByText("You are signed out everywhere else")).toBeVisible();

  await keeper.getByLabel("Level of Short Lived").selectOption("keep");
  await expect(keeper.getByText("The level is changed.")).toBeVisible();
  await page.goto("/upkeep");
  await expect(page.getByRole("heading", { name: "Upkeep" })).toBeVisible();
  await expectAccessible(page);

  const row = keeper.getByRole("row").filter({ hasText: email });
  await row.getByText("New password").click();
  await row.getByLabel("New password of Short Lived").fill("a third password");
  await row.getByRole("button", { name: "Set" }).click();
  await expect(keeper.getByText("signed out everywhere")).toBeVisible();
  await page.goto("/library");
  await page.waitForURL("**/sign-in**");
  await enter("a third password");
  await page.waitForURL("**/library");
  keeper.on("dialog", (dialog) => void dialog.accept());
  await row.getByRole("button", { name: "Retire Short Lived" }).click();
  await expect(row).toHaveCount(0);
  await page.goto("/library");
  await page.waitForURL("**/sign-in**");
});

test("files that nothing refers to are looked for, and the queue is seen by keepers alone", async ({
  browser,
}) => {
  const keeper = await signIn(browser, "ines");
  await keeper.goto("/upkeep");
  await settled(keeper);
  await expect(keeper.getByText("Free on the disk")).toBeVisible();
  await keeper.getByRole("button", { name: "Look for files that nothing refers to" }).click();
  await expect(keeper.getByText(/Nothing was left over|nothing referred to/)).toBeVisible();
  const maker = await signIn(browser, "joost");
  await maker.goto("/upkeep");
  await expect(maker.getByRole("heading", { name: "Not for you" })).toBeVisible();
});

test("a body that is too large is refused before anybody is asked who they are", async ({ request }) => {
  const form = { "Content-Type": "application/x-www-form-urlencoded" };
  const tooLarge = await request.post("/sign-in", { headers: form, data: `email=${"a".repeat(70_000)}` });
  expect(tooLarge.status()).toBe(413);
  const other = await request.post("/people", { headers: form, data: `name=${"a".repeat(1_100_000)}` });
  expect(other.status()).toBe(413);
  const json = await request.post("/sign-in", { data: { email: "a" } });
  expect(json.status()).toBe(415);
  expect((await request.fetch("/library", { method: "PUT" })).status()).toBe(405);
  expect((await request.get("/healthz")).status()).toBe(200);
});

test("pages are kept by nobody, and the keeper's page is the keeper's however it is written", async ({
  browser,
}) => {
  const page = await signIn(browser, "guest");
  const library = await page.request.get("/library");
  expect(library.headers()["cache-control"]).toBe("private, no-store");
  expect(library.headers()["content-security-policy"]).not.toMatch(/style-src [^;]*unsafe-inline/);
  for (const path of ["/upkeep", "/UPKEEP", "/Upkeep.data", "/%75pkeep", "/upkeep/"]) {
    const answer = await page.request.get(path);
    expect([403, 404], path).toContain(answer.status());
    expect(await answer.text(), path).not.toContain("databaseBytes");
  }
});

test("the screen says that it is not live while the line is down, and comes back by itself", async ({
  browser,
}) => {
  const page = await signIn(browser, "joost");
  await page.route(/\/api\/v1\/events\?/, (route) => route.fulfill({ status: 502, body: "Bad gateway" }));
  await page.reload();
  await expect(page.getByText("not live")).toBeVisible();
  await page.unroute(/\/api\/v1\/events\?/);
  await expect(page.getByText("not live")).toBeHidden({ timeout: 45_000 });
});
