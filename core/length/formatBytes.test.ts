import { expect, test } from "@jest/globals";
import { formatBytes } from "./formatBytes";

test.each([
  [0, "0 bytes"],
  [999, "999 bytes"],
  [1000, "1.0 KB"],
  [123_456, "123 KB"],
  [4_300_000_000, "4.3 GB"],
  [5e16, "50000 TB"],
])("%d bytes are %s", (bytes, text) => expect(formatBytes(bytes)).toBe(text));
