import { afterEach, beforeEach, expect, jest, test } from "@jest/globals";
import { eventLine, type Source } from "./eventLine";

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

function setUp() {
  const sources: (Source & { closed: boolean })[] = [];
  const told: boolean[] = [];
  const heard: string[] = [];
  const end = eventLine({
    open() {
      const source = {
        onopen: null,
        onerror: null,
        onmessage: null,
        closed: false,
        close() {
          source.closed = true;
        },
      } as Source & { closed: boolean };
      sources.push(source);
      return source;
    },
    heard: (data) => heard.push(data),
    told: (live) => told.push(live),
  });
  return { sources, told, heard, end };
}

test("a source that gave up is replaced after pauses that grow, and the screen is told meanwhile", () => {
  const { sources, told, heard } = setUp();
  sources[0].onopen!();
  sources[0].onmessage!({ data: "one" });
  const waits: number[] = [];
  for (let n = 0; n < 9; n++) {
    const count = sources.length;
    sources.at(-1)!.onerror!();
    expect(sources.at(-1)!.closed).toBe(true);
    let waited = 0;
    for (; sources.length === count; waited += 100) jest.advanceTimersByTime(100);
    waits.push(waited);
  }
  expect(waits[0]).toBeLessThanOrEqual(1300);
  expect(waits[3]).toBeGreaterThan(waits[0] * 3);
  expect(Math.max(...waits)).toBeLessThanOrEqual(38_000);
  expect(told).toEqual([true, false]);
  sources.at(-1)!.onopen!();
  sources.at(-1)!.onmessage!({ data: "two" });
  expect(told).toEqual([true, false, true]);
  expect(heard).toEqual(["one", "two"]);
});

test("a short gap is told to nobody, and once ended nothing comes back", () => {
  const { sources, told, end } = setUp();
  sources[0].onopen!();
  sources[0].onerror!();
  jest.advanceTimersByTime(1500);
  sources[1].onopen!();
  jest.advanceTimersByTime(10_000);
  expect(told).toEqual([true, true]);
  sources[1].onerror!();
  end();
  jest.advanceTimersByTime(120_000);
  expect(sources).toHaveLength(2);
  expect(told).toEqual([true, true]);
});
