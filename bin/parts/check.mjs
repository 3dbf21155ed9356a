import { spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureBuild } from "./build.mjs";
import { openDataFolder } from "./dataFolder.mjs";
import { freePort } from "./freePort.mjs";
import { chromiumPath, ensurePackages } from "./packages.mjs";
import { startPostgres } from "./postgres.mjs";
import { main, say, Stop } from "./say.mjs";
import { loadDemo, startStudio, studioEnvironment } from "./studio.mjs";

await main(async () => {
  ensurePackages(["postgresql", "chromium"]);
  const parent = process.env.KALONOMY_DATA ?? tmpdir();
  mkdirSync(parent, { recursive: true });
  const folder = mkdtempSync(join(parent, "kalonomy-check-"));
  const data = openDataFolder(folder);
  for (const signal of ["SIGINT", "SIGTERM"]) process.on(signal, () => process.exit(1));
  process.on("exit", () => rmSync(folder, { recursive: true, force: true }));

  step("Types and routes", "node", ["node_modules/@react-router/dev/bin.js", "typegen"]);
  step("Types", "node", ["node_modules/typescript/bin/tsc", "--noEmit"]);
  step("Lint", "node", ["node_modules/eslint/bin/eslint.js", "."]);
  step("Kernels", "node", ["bin/parts/kernels.mjs", "--check"]);
  step("Unused exports", "node", ["node_modules/knip/bin/knip.js", "--no-progress", "--no-config-hints"]);
  step("Format", "node", ["node_modules/prettier/bin/prettier.cjs", "--check", "--log-level", "warn", "."]);

  const database = await startPostgres(data, { isKept: true });
  try {
    const port = Number(process.env.PORT ?? (await freePort()));
    const env = studioEnvironment(data, database.url, port);
    step(
      "Unit tests",
      "node",
      [
        "--experimental-vm-modules",
        "--no-warnings",
        "node_modules/jest/bin/jest.js",
        "--json",
        `--outputFile=${folder}/unit.json`,
      ],
      {
        ...env,
        NODE_ENV: "test",
      },
    );
    step("Fuzz, for a minute", "node", ["--import", "tsx", "bench/fuzz.ts"], {
      ...env,
      NODE_ENV: "test",
      BENCH_SECONDS: "60",
    });
    ensureBuild();
    say("Demo studio for the browser tests");
    const small = { ...env, KALONOMY_DEMO_PIXELS: "256" };
    loadDemo(small);
    const studio = await startStudio(small, { quiet: true });
    try {
      step("Browser tests", "node", ["node_modules/@playwright/test/cli.js", "test"], {
        ...process.env,
        PLAYWRIGHT_JSON_OUTPUT_NAME: join(folder, "browser.json"),
        CHROMIUM: chromiumPath(),
        KALONOMY_ADDRESS: studio.address,
        KALONOMY_DEMO_PASSWORD: data.secrets.demoPassword,
        KALONOMY_DEMO_TOKEN: data.secrets.demoToken,
      });
    } finally {
      await studio.stop();
    }
  } finally {
    await database.stop();
  }
  say("All checks passed");
  console.log(countTests(folder));
  process.exit();
});

/** `264 passed, 0 failed`: both runners end without an error, or the command would have stopped. */
function countTests(folder) {
  const read = (name) => JSON.parse(readFileSync(join(folder, name), "utf8"));
  const passed = read("unit.json").numPassedTests + read("browser.json").stats.expected;
  return `${passed} passed, 0 failed`;
}

function step(name, program, args, env = process.env) {
  say(name);
  const { status } = spawnSync(program, args, { stdio: "inherit", env });
  if (status !== 0) throw new Stop(`${name}: failed.`);
}
