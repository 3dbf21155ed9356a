import { connect, type AddressInfo, type Socket } from "node:net";
import type { Server } from "node:http";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import express from "express";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

/** What stands in front of every screen and call. */
let studio: TestStudio;
let server: Server;
let port: number;
beforeAll(async () => {
  studio = await openTestStudio();
  const { plainAddresses } = await import("#server/http/addresses");
  const { boundedBodies, readBody } = await import("#server/http/bodies");
  const { sendError } = await import("#server/http/errors");
  const app = express();
  app.use(plainAddresses, boundedBodies);
  app.post("/early", (_request, response) => void response.status(401).send("no"));
  app.post("/*path", (request, response, next) => {
    readBody(request).then((body) => response.send(String(body.length)), next);
  });
  app.get("/query", (request, response) => void response.json({ query: request.query }));
  app.get("/away", (_request, _response, next) => next(Object.assign(new Error("gone"), { code: "57P01" })));
  app.get("/defect", (_request, _response, next) => next(new TypeError("x is not a function")));
  app.use(sendError);
  server = app.listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  port = (server.address() as AddressInfo).port;
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await studio.close();
});

/** What a raw request is answered, until the connection ends. */
function raw(text: string, then?: (socket: Socket) => void): Promise<{ answer: string; sent: number }> {
  return new Promise((resolve) => {
    const socket = connect(port, "127.0.0.1");
    let answer = "";
    socket.on("data", (chunk) => (answer += chunk.toString()));
    socket.on("error", () => undefined);
    socket.on("close", () => resolve({ answer, sent: socket.bytesWritten }));
    socket.write(text);
    then?.(socket);
  });
}
const head = (path: string, ...headers: string[]) =>
  `POST ${path} HTTP/1.1\r\nHost: x\r\n${headers.map((one) => `${one}\r\n`).join("")}\r\n`;
const KIB = 1024;

/** A body without an announced length that goes on for as long as it is taken. */
function endless(socket: Socket) {
  const data = Buffer.alloc(64 * KIB, 0x61);
  const chunk = Buffer.concat([Buffer.from(`${data.length.toString(16)}\r\n`), data, Buffer.from("\r\n")]);
  const more = () => {
    while (!socket.destroyed && socket.write(chunk));
  };
  socket.on("drain", more);
  more();
}

describe("bodies", () => {
  test.each([
    ["/sign-in", 64 * KIB + 1],
    ["/Sign-In/", 64 * KIB + 1],
    ["/sign-in.data", 480 * KIB * KIB],
    ["/materials", 1024 * KIB + 1],
  ])("to %s of %i bytes are refused by what they announce, before a byte is read", async (path, length) => {
    const { answer } = await raw(head(path, `Content-Length: ${length}`));
    expect(answer).toMatch(/^HTTP\/1.1 413 /);
    expect(answer).toContain("Connection: close");
  });

  test.each([
    ["/sign-in", 64],
    ["/materials", 1024],
  ])("to %s of unknown length are refused while they come", async (path, kib) => {
    const before = process.memoryUsage.rss();
    const { answer, sent } = await raw(head(path, "Transfer-Encoding: chunked"), endless);
    expect(answer).toMatch(/^HTTP\/1.1 413 /);
    // What the kernel holds on both sides comes on top.
    expect(sent).toBeLessThan((kib + 16 * 1024) * KIB);
    expect(process.memoryUsage.rss() - before).toBeLessThan(100 * 2 ** 20);
  });

  test("within their bounds are taken whole", async () => {
    const post = (path: string, bytes: number) =>
      fetch(`http://127.0.0.1:${port}${path}`, { method: "POST", body: new Uint8Array(bytes) });
    expect(await (await post("/sign-in", 64 * KIB)).text()).toBe(String(64 * KIB));
    expect(await (await post("/materials", 1024 * KIB)).text()).toBe(String(1024 * KIB));
  });

  test("that nobody waits for are not listened to for long", async () => {
    const start = Date.now();
    const { answer } = await raw(head("/early", "Transfer-Encoding: chunked"), endless);
    expect(answer).toMatch(/^HTTP\/1.1 401 /);
    expect(Date.now() - start).toBeLessThan(20_000);
  });

  test("on their way are bounded for one address, and those that end make room", async () => {
    const open: Socket[] = [];
    for (let n = 0; n < 64; n++) {
      const socket = connect(port, "127.0.0.1");
      socket.on("error", () => undefined);
      socket.write(head("/materials", "Content-Length: 10"));
      open.push(socket);
    }
    // A busy machine hears the sockets, and their ends, when it gets to them.
    const answerOf = async (status: number) => {
      for (const end = Date.now() + 10_000; ; await new Promise((resolve) => setTimeout(resolve, 50))) {
        const answer = await fetch(`http://127.0.0.1:${port}/materials`, { method: "POST", body: "a" });
        if (answer.status === status || Date.now() > end) return answer;
        await answer.arrayBuffer();
      }
    };
    const refused = await answerOf(503);
    expect(refused.status).toBe(503);
    expect(refused.headers.get("Retry-After")).toBe("5");
    for (const socket of open) socket.destroy();
    expect((await answerOf(200)).status).toBe(200);
  });

  test("have rules by the kind of what is sent", async () => {
    const { bodyRule } = await import("#server/http/bodies");
    expect(bodyRule("POST", "/api/v1/INTAKES")).toMatchObject({ isUpload: true, silentSeconds: 60 });
    expect(bodyRule("POST", "/%73ign-in")).toMatchObject({ mostBytes: 64 * KIB });
    expect(bodyRule("POST", "//sign-in/")).toMatchObject({ mostBytes: 64 * KIB });
    expect(bodyRule("POST", "/%zz")).toMatchObject({ mostBytes: 1024 * KIB });
    expect(bodyRule("PATCH", "/api/v1/uploads/x")).toMatchObject({ isUpload: true });
    expect(bodyRule("POST", "/api/v1/intakes/begin")).toMatchObject({ isUpload: false, seconds: 30 });
    expect(bodyRule("POST", "/people")).toMatchObject({ mostBytes: 1024 * KIB, seconds: 30 });
  });
});

describe("addresses", () => {
  test.each(["TRACE", "PROPFIND", "LINK"])("%s is no way to ask", async (method) => {
    const { answer } = await raw(`${method} /query HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n`);
    expect(answer).toMatch(/^HTTP\/1.1 405 /);
  });

  test.each(["/%", "/%zz", "/%c3%28", "/a%00b", "/%0A/x", "/%7f", `/${"a".repeat(20_000)}`, "*"])(
    "%s is refused, and is no defect",
    async (path) => {
      const { answer } = await raw(`GET ${path} HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n`);
      expect(answer).toMatch(/^HTTP\/1.1 (400|431) /);
    },
  );

  test("control characters in a query are taken out, and what cannot be decoded is read as it is", async () => {
    const ask = async (query: string) =>
      (await (await fetch(`http://127.0.0.1:${port}/query?${query}`)).json()).query;
    expect(await ask("q=a%00b%07c&page=2")).toEqual({ q: "abc", page: "2" });
    expect((await ask("q=100%25&r=%zz")).q).toBe("100%");
    expect(await ask("q=two+words")).toEqual({ q: "two words" });
  });
});

describe("errors", () => {
  test("a database that is away is said as such, with when to come again", async () => {
    const response = await fetch(`http://127.0.0.1:${port}/away`);
    expect(response.status).toBe(503);
    expect(response.headers.get("Retry-After")).toBe("5");
    expect(await response.text()).toContain("The database does not answer");
  });

  test("a defect tells nothing of itself", async () => {
    const response = await fetch(`http://127.0.0.1:${port}/defect`);
    expect(response.status).toBe(500);
    expect(await response.text()).not.toContain("function");
  });
});
