import { defineConfig } from "@playwright/test";

const FIRST = /(sizes|lines)\.spec\.ts/;

/** The real interface in Debian's Chromium, against the server that bin/check starts. */
export default defineConfig({
  testDir: "e2e",
  timeout: 150_000,
  expect: { timeout: 20_000 },
  // Two files at a time, on one studio: each test looks at what it made itself.
  workers: 2,
  projects: [
    // Sizes are proposed by what was sized last: these come while nobody sizes anything, beside lines of plain colours, which have none.
    { name: "first", testMatch: FIRST },
    { name: "rest", testIgnore: FIRST, dependencies: ["first"] },
  ],
  forbidOnly: Boolean(process.env.CI),
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [["list"], ["json"]] : [["list"]],
  use: {
    baseURL: process.env.KALONOMY_ADDRESS ?? "http://127.0.0.1:4600",
    viewport: { width: 1280, height: 800 },
    actionTimeout: 60_000,
    screenshot: "only-on-failure",
    launchOptions: {
      executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
      // Chromium's sandbox does not run as root, as which containers run this.
      chromiumSandbox: process.getuid?.() !== 0,
      args: [
        "--use-angle=swiftshader",
        "--enable-unsafe-swiftshader",
        // Where the graphics card is software, it draws what pages ask it for; the pages themselves are put together without it.
        "--disable-gpu-compositing",
        "--disable-gpu-rasterization",
        "--disable-accelerated-2d-canvas",
      ],
    },
  },
});
