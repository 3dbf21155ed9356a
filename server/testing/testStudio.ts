import { randomUUID } from "node:crypto";
import { mkdtemp, rm, writeFile } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buffer } from "node:stream/consumers";
import express from "express";
import pg from "pg";
import sharp from "sharp";
import yazl from "yazl";
import type { Level, Person } from "#server/auth/person";

/**
 * A studio of a test's own: a fresh database on the server that DATABASE_URL names, a data folder, and the HTTP interface.
 * @param fillBefore writes into the database before it is brought up to date
 */
export async function openTestStudio(fillBefore?: (databaseUrl: string) => Promise<void>) {
  const admin = process.env.KALONOMY_TEST_DATABASE_URL ?? process.env.DATABASE_URL;
  if (!admin)
    throw new Error(
      "These tests need PostgreSQL: run bin/check, or set DATABASE_URL to a server on which databases may be made.",
    );
  process.env.KALONOMY_TEST_DATABASE_URL = admin;
  const name = `test_${randomUUID().replaceAll("-", "")}`;
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-test-"));
  const url = new URL(admin);
  url.pathname = `/${name}`;
  process.env.DATABASE_URL = url.href;
  process.env.KALONOMY_DATA = folder;
  process.env.KALONOMY_SECRET = "a secret of the tests alone, 32 characters or more";

  // Settings are read when they are first used, so everything that uses them comes after.
  const prepare = async () => (await import("#server/main/prepare")).prepareDatabase(url.href);
  const { closeDatabase, database } = await import("#server/db/database");
  const { insertPerson } = await import("#server/people/writes");
  const { insertToken } = await import("#server/auth/writes");
  const { hashSecret } = await import("#server/auth/tokens");
  const { closePool } = await import("#server/pool/pool");
  const { closeEvents } = await import("#server/events/events");
  const { apiRouter } = await import("#server/http/api/router");
  const { CALLS } = await import("#server/main/calls");
  if (fillBefore) {
    await asAdmin(admin, `CREATE DATABASE ${name}`);
    await fillBefore(url.href);
    await prepare();
  } else
    await likeTheFirst(admin, name, async () => {
      await prepare();
      await closeDatabase();
    });

  const server = express().use("/api/v1", apiRouter(CALLS)).listen(0, "127.0.0.1");
  // A test may work for longer than an idle connection is kept, and then ask on it in the moment in which it is closed.
  server.keepAliveTimeout = 0;
  await new Promise((resolve) => server.once("listening", resolve));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/api/v1`;

  const addPerson = async (level: Level): Promise<{ person: Person; token: string }> => {
    const token = `token_${randomUUID()}`;
    const person = await insertPerson(database(), {
      name: `Somebody who may ${level}`,
      email: `${randomUUID()}@studio.example`,
      level,
      passwordHash: "-",
    });
    await insertToken(database(), { person: person.id, name: "test", hash: hashSecret(token) });
    return { person, token };
  };
  const { person, token } = await addPerson("keep");

  const { answerFits } = await import("#server/testing/answerFits");
  const answered = new Set<string>();

  /** One call of the HTTP interface, held against its description; by the keeper unless another token is given. */
  const api = async (
    method: string,
    path: string,
    body?: unknown,
    options: { token?: string | null; headers?: Record<string, string> } = {},
  ) => {
    const asked = options.token === undefined ? token : options.token;
    const isForm = body instanceof FormData;
    const isBytes = Buffer.isBuffer(body);
    const response = await fetch(address + path, {
      method,
      headers: {
        ...(asked && { Authorization: `Bearer ${asked}` }),
        ...(body !== undefined &&
          !isForm && { "Content-Type": isBytes ? "application/octet-stream" : "application/json" }),
        ...options.headers,
      },
      body: isForm
        ? body
        : isBytes
          ? new Uint8Array(body)
          : body === undefined
            ? undefined
            : JSON.stringify(body),
    });
    const type = response.headers.get("Content-Type") ?? "";
    // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look at whatever comes
    const json: any = type.includes("json") ? await response.json() : undefined;
    const call = answerFits(method, path, response.status, type, json);
    if (call && response.ok) answered.add(call);
    return { status: response.status, json, type, response };
  };

  /** A call that has to go well. @returns what it answers */
  const ask = async (method: string, path: string, body?: unknown) => {
    const answer = await api(method, path, body);
    if (!answer.response.ok)
      throw new Error(`${method} ${path}: ${answer.status} ${JSON.stringify(answer.json)}`);
    return answer.json;
  };

  return {
    address,
    token,
    api,
    ask,
    /** The calls that were answered well. */
    answered,
    person,
    addPerson,
    folder,
    async close() {
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await closeEvents();
      await closePool();
      await closeDatabase();
      await asAdmin(admin, `DROP DATABASE ${name} WITH (FORCE)`);
      await rm(folder, { recursive: true, force: true });
    },
  };
}

export type TestStudio = Awaited<ReturnType<typeof openTestStudio>>;

/** The lock under which the first database of a run is made. */
const MAKING_FIRST = 7_204_113;

/** Makes a database as the first one of this run was made: bringing each of them up to date takes many times as long. */
async function likeTheFirst(admin: string, name: string, prepare: () => Promise<void>): Promise<void> {
  const first = process.env.KALONOMY_TEST_FIRST;
  if (!first) {
    await asAdmin(admin, `CREATE DATABASE ${name}`);
    return prepare();
  }
  const client = new pg.Client({ connectionString: admin });
  await client.connect();
  try {
    await client.query("SELECT pg_advisory_lock($1)", [MAKING_FIRST]);
    const { rowCount } = await client.query("SELECT FROM pg_database WHERE datname = $1", [first]);
    if (rowCount === 1) await client.query(`CREATE DATABASE ${name} TEMPLATE ${first}`);
    else {
      await client.query(`CREATE DATABASE ${name}`);
      await prepare();
      await client.query(`CREATE DATABASE ${first} TEMPLATE ${name}`);
    }
  } finally {
    await client.end();
  }
}

async function asAdmin(url: string, sql: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(sql);
  await client.end();
}

/** A small PNG of one colour, different for each colour. */
export function picture(background: string, size = 16): Promise<Buffer> {
  return sharp({ create: { width: size, height: size, channels: 3, background } })
    .png()
    .toBuffer();
}

/** A zip of the given files. */
export async function zipOf(
  files: Record<string, Buffer | string>,
  { compress = true } = {},
): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of Object.entries(files))
    zip.addBuffer(Buffer.from(content), name, { compress });
  zip.end();
  const chunks: Buffer[] = [];
  for await (const chunk of zip.outputStream) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

/** Hands files in over HTTP and reads them as the worker would. */
export async function takeIn(
  studio: TestStudio,
  files: Record<string, Buffer | string>,
  onClash?: string,
  options: Record<string, string> = {},
) {
  const form = new FormData();
  if (onClash) form.append("onClash", onClash);
  for (const [name, value] of Object.entries(options)) form.append(name, value);
  for (const [name, content] of Object.entries(files))
    form.append("files", new Blob([new Uint8Array(Buffer.from(content))]), name);
  const { json, status } = await studio.api("POST", "/intakes", form);
  if (status !== 202) throw new Error(JSON.stringify(json));
  const { readIntake } = await import("#server/intake/stages/read");
  await readIntake(json.id as string);
  return (await studio.api("GET", `/intakes/${json.id}`)).json;
}

/** The files in the archive of a delivery. */
export async function archiveFiles(studio: TestStudio, delivery: string): Promise<Map<string, Buffer>> {
  const { response } = await studio.api("GET", `/deliveries/${delivery}/archive`);
  const path = join(studio.folder, `${delivery}.zip`);
  await writeFile(path, Buffer.from(await response.arrayBuffer()));
  const { newBudget, readArchive } = await import("#server/opening/openArchive");
  const files = new Map<string, Buffer>();
  await readArchive(
    path,
    async (file) => {
      files.set(file.name, await file.read(buffer));
    },
    (name, reason) => {
      throw new Error(`${name}: ${reason}`);
    },
    newBudget(Infinity),
  );
  return files;
}
