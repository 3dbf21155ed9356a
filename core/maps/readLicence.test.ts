import { expect, test } from "@jest/globals";
import { isLicenceName, readLicence } from "#core/maps/readLicence";

test.each([
  [
    "All textures are CC0 1.0, public domain.",
    { name: "CC0 1.0", price: "free", projects: "all", nonCommercial: false, credit: null },
  ],
  ["Licensed CC-BY 4.0. You must credit Mara Quist.", { name: "CC BY", credit: "Mara Quist" }],
  ["Creative Commons Attribution-NonCommercial", { nonCommercial: true, price: "free" }],
  [
    "END USER LICENSE AGREEMENT. Single-project use only.",
    { name: "For one project", price: "bought", projects: "one" },
  ],
  ["<html><b>Royalty-free</b> for any number of projects</html>", { name: "Royalty-free", projects: "all" }],
  ["Lizenzfrei, nicht kommerziell", { name: "Royalty-free", nonCommercial: true }],
])("%s", (text, expected) => expect(readLicence(text)).toMatchObject(expected));

test("a text that says nothing of a licence is none", () => {
  expect(readLicence("Scanned in October with a ring light.")).toBeUndefined();
  expect(readLicence("")).toBeUndefined();
});

test("files that may hold one are known by name", () => {
  expect(["docs/LICENSE.txt", "Lizenz.pdf", "read me.md", "Nutzung-Terms.html"].every(isLicenceName)).toBe(
    true,
  );
  expect(["oak.txt", "licence/oak_color.txt", "notes.md"].some(isLicenceName)).toBe(false);
});
