import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let intake: string;
beforeAll(async () => {
  studio = await openTestStudio();
  const form = new FormData();
  form.append("files", new Blob([new Uint8Array(await picture("#102030"))]), "a.png");
  intake = (await studio.api("POST", "/intakes", form)).json.id;
});
afterAll(() => studio.close());

const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

test("many steps of one subject are told once with how far it is by then, and what else happens at once", async () => {
  const { announce, announceStep, gatheredFor, listen } = await import("#server/events/events");
  const { setIntakeProgress } = await import("#server/intake/writes");
  const { database } = await import("#server/db/database");
  const heard: object[] = [];
  const others: object[] = [];
  const missed = () => undefined;
  const off = await listen({
    heard: (event) => heard.push(event),
    follows: ({ id }) => id === intake,
    missed,
  });
  const offToo = await listen({ heard: (event) => others.push(event), follows: () => false, missed });
  const step = { topic: "intake" as const, id: intake, state: "reading" };
  for (let done = 1; done <= 5; done++) {
    await setIntakeProgress(database(), intake, { done, total: 9, what: `Reading ${done}.png` });
    await announceStep(database(), step);
  }
  await announce(database(), { topic: "library", id: intake });
  await wait(gatheredFor(1) + 500);
  off();
  offToo();
  expect(heard).toEqual([
    { topic: "library", id: intake },
    { ...step, progress: expect.objectContaining({ done: 5, total: 9, what: "Reading 5.png" }) },
  ]);
  // Who does not follow the work hears of the rest alone.
  expect(others).toEqual([{ topic: "library", id: intake }]);
  // Whoever has gone hears nothing more.
  await announce(database(), { topic: "library", id: intake });
  await wait(100);
  expect(heard).toHaveLength(2);
});

test("the more listen, the less often each is told, within two seconds", async () => {
  const { gatheredFor } = await import("#server/events/events");
  expect([1, 10, 100, 1000].map(gatheredFor)).toEqual([160, 250, 1150, 2000]);
});

test("a browser says whose progress it follows, and is told where it says it wrongly", async () => {
  const { announce, announceStep } = await import("#server/events/events");
  const { database } = await import("#server/db/database");
  const hearing = async (steps: string) => {
    const stop = new AbortController();
    const response = await fetch(`${studio.address}/events?steps=${steps}`, {
      headers: { Authorization: `Bearer ${studio.token}` },
      signal: stop.signal,
    });
    let text = "";
    const reading = response
      .body!.pipeThrough(new TextDecoderStream())
      .pipeTo(new WritableStream({ write: (part) => void (text += part) }));
    return {
      status: response.status,
      async end() {
        stop.abort();
        await reading.catch(() => undefined);
        return text;
      },
    };
  };
  const [follower, other, wrong] = await Promise.all([`intake:${intake}`, "", "people"].map(hearing));
  expect([follower.status, other.status, wrong.status]).toEqual([200, 200, 422]);
  await announceStep(database(), { topic: "intake", id: intake, state: "reading" });
  await announce(database(), { topic: "library", id: intake });
  await wait(900);
  expect(await follower.end()).toContain('"progress"');
  const told = await other.end();
  expect(told).not.toContain('"progress"');
  expect(told).toContain('"library"');
  expect(await wrong.end()).toContain("lists intake, delivery");
});
