import { execFile, spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
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
  // These only read, and each takes one core. (The package is there only now, on a fresh machine.)
  const { default: pMap } = await import("p-map");
  await pMap(
    [
      ["Types", ["node_modules/typescript/bin/tsc", "--noEmit"]],
      ["Lint", ["node_modules/eslint/bin/eslint.js", "."]],
      ["Kernels", ["bin/parts/kernels.mjs", "--check"]],
      ["Unused exports", ["node_modules/knip/bin/knip.js", "--no-progress", "--no-config-hints"]],
      ["Format", ["node_modules/prettier/bin/prettier.cjs", "--check", "--log-level", "warn", "."]],
    ],
    ([name, args]) => stepBeside(name, "node", args),
    { concurrency: 2 },
  );

  const database = await startPostgres(data, { isKept: true, isThrownAway: true });
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
    // It waits for processes that it gives bad files to: the build fills what it leaves.
    const fuzzing = stepBeside("Fuzz, for a minute", "node", ["--import", "tsx", "bench/fuzz.ts"], {
      ...env,
      NODE_ENV: "test",
      BENCH_SECONDS: "60",
    });
    ensureBuild();
    say("Demo studio for the browser tests");
    const small = { ...env, KALONOMY_DEMO_PIXELS: "256" };
    loadDemo(small);
    await fuzzing;
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

/** A step that runs beside others: what it says comes when it ends, in one piece. */
async function stepBeside(name, program, args, env = process.env) {
  const ended = await promisify(execFile)(program, args, { maxBuffer: 64 * 2 ** 20, env }).catch(
    (error) => error,
  );
  say(name);
  process.stdout.write(`${ended.stdout ?? ""}${ended.stderr ?? ""}`);
  if (ended instanceof Error) throw new Stop(`${name}: failed.`);
}
