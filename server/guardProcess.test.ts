import { spawn } from "node:child_process";
import { expect, test } from "@jest/globals";

test("what nobody listens to ends the work that it belongs to, and the process only where it belongs to none", async () => {
  const child = spawn(process.execPath, ["--import", "tsx", "server/testing/unguarded.ts"], {
    env: { ...process.env, NODE_OPTIONS: "", KALONOMY_LOG: "silent" },
    stdio: ["ignore", "pipe", "inherit"],
  });
  let said = "";
  child.stdout.on("data", (chunk: Buffer) => (said += chunk.toString()));
  const code = await new Promise((resolve) => child.once("exit", resolve));
  expect(said.trim().split("\n")).toEqual([
    "stream ended: nobody listens",
    "promise ended: nobody awaits",
    "alive",
  ]);
  expect(code).toBe(1);
});
