import { expect, test } from "@jest/globals";
import { commonName } from "#core/library/commonName";

test.each([
  ["Harbour brick red", "Harbour brick flint", "Harbour brick"],
  ["Red harbour brick", "Flint Harbour Brick", "harbour brick"],
  ["Oak", "Oak (2)", "Oak"],
  ["Oak", "Ash", ""],
  ["Oak", "", ""],
])("%s and %s are of “%s”", (one, other, line) => expect(commonName(one, other)).toBe(line));
