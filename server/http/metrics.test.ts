import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import express from "express";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

test("figures are off unless a token is set, and are for whoever has it", async () => {
  const { metrics, noteRequest } = await import("#server/http/metrics");
  const { settings } = await import("#server/settings");
  const server = express()
    .use(metrics)
    .use((_request, response) => void response.status(404).end())
    .use((error: { status: number }, _request: unknown, response: express.Response, _next: unknown) => {
      response.status(error.status ?? 500).end(String(error));
    })
    .listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  const ask = (token?: string) =>
    fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/metrics`, {
      headers: token === undefined ? {} : { Authorization: `Bearer ${token}` },
    });
  try {
    expect((await ask("anything")).status).toBe(404);
    settings().metricsToken = "a-token-of-the-monitoring";
    expect((await ask()).status).toBe(401);
    expect((await ask("another-token-of-the-same")).status).toBe(401);
    noteRequest("/library", 200, 12);
    const { noteJobTime } = await import("#server/jobs/queries");
    const { database } = await import("#server/db/database");
    await noteJobTime(database(), { kind: "read-intake", seconds: 3, failed: false });
    const text = await (await ask("a-token-of-the-monitoring")).text();
    for (const line of [
      'kalonomy_request_seconds_count{kind="screen",status="2xx"} 1',
      'kalonomy_job_seconds{kind="read-intake",figure="longest"} 3',
      "kalonomy_database_up 1",
      "kalonomy_workers 0",
    ])
      expect(text).toContain(line);
    for (const name of [
      "queue_jobs",
      "pool_tasks",
      "disk_bytes",
      "defects_total",
      "bodies_in_flight",
      "database_connections",
    ])
      expect(text).toContain(`# TYPE kalonomy_${name}`);
  } finally {
    settings().metricsToken = undefined;
    server.close();
  }
});

test("a job knows the request that it began with, and its work is told under the same number", async () => {
  const { inScope, currentScope } = await import("#server/scope");
  const { addJob } = await import("#server/jobs/queue");
  const { database } = await import("#server/db/database");
  const intake = await takeIn(studio, { "wall.png": await picture("#445566") });
  await inScope({ request: "a-request", what: "a page", end: () => undefined }, () =>
    addJob(database(), "count-modules", { material: intake.id }),
  );
  const { rows } = await database().query(
    "SELECT payload FROM graphile_worker._private_jobs WHERE payload->>'material' = $1",
    [intake.id],
  );
  expect(rows[0].payload).toEqual({ material: intake.id, request: "a-request" });
  expect(currentScope()).toBeUndefined();
});
