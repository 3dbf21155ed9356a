import { readdirSync, readFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { expect, test } from "@jest/globals";

const IMPORT = /(?:from|import)\s*\(?\s*"([#.][^"]+)"/g;

/** What each file, or each room, imports of the others; types as well, since whoever reads one has to read the other. */
function imports(nameOf: (file: string) => string): Map<string, Set<string>> {
  const files = ["core", "server", "app"]
    .flatMap((folder) => readdirSync(folder, { recursive: true }).map((file) => join(folder, String(file))))
    .filter((file) => /\.tsx?$/.test(file) && !/\.test\.ts$|\/testing(\/|\.ts$)/.test(file));
  const known = new Set(files);
  const edges = new Map<string, Set<string>>();
  for (const file of files) {
    const from = nameOf(file);
    const to = edges.get(from) ?? edges.set(from, new Set()).get(from)!;
    for (const [, specifier] of readFileSync(file, "utf8").matchAll(IMPORT)) {
      const place = specifier.startsWith("#") ? specifier.slice(1) : join(dirname(file), specifier);
      const found = [place, `${place}.ts`, `${place}.tsx`].find((one) => known.has(one));
      if (found && nameOf(found) !== from) to.add(nameOf(found));
    }
  }
  return edges;
}

/** The first way that leads back to where it began. */
function findCircle(edges: Map<string, Set<string>>): string[] | undefined {
  const done = new Set<string>();
  const walk = (at: string, path: string[]): string[] | undefined => {
    if (path.includes(at)) return [...path.slice(path.indexOf(at)), at];
    if (done.has(at)) return undefined;
    for (const next of edges.get(at) ?? []) {
      const circle = walk(next, [...path, at]);
      if (circle) return circle;
    }
    done.add(at);
    return undefined;
  };
  for (const from of edges.keys()) {
    const circle = walk(from, []);
    if (circle) return circle;
  }
  return undefined;
}

const roomOf = (file: string) =>
  file
    .split("/")
    .slice(0, 2)
    .join("/")
    .replace(/\.tsx?$/, "");

test("a circle is found", () => {
  const edges = (pairs: [string, string][]) => {
    const map = new Map<string, Set<string>>();
    for (const [from, to] of pairs) map.set(from, (map.get(from) ?? new Set()).add(to));
    return map;
  };
  expect(
    findCircle(
      edges([
        ["a", "b"],
        ["b", "c"],
        ["a", "c"],
      ]),
    ),
  ).toBeUndefined();
  expect(
    findCircle(
      edges([
        ["a", "b"],
        ["b", "c"],
        ["c", "b"],
      ]),
    ),
  ).toEqual(["b", "c", "b"]);
});

test("no file imports itself by way of others", () => {
  const edges = imports((file) => file);
  expect(edges.size).toBeGreaterThan(400);
  expect(findCircle(edges)).toBeUndefined();
});

test("no room of the core and of the server imports itself by way of others", () => {
  const edges = imports(roomOf);
  for (const room of [...edges.keys()]) if (room.startsWith("app")) edges.delete(room);
  expect(findCircle(edges)).toBeUndefined();
});
