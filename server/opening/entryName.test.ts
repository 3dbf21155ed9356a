import { expect, test } from "@jest/globals";
import iconv from "iconv-lite";
import { crc32 } from "node:zlib";
import { entryName } from "#server/opening/entryName";

const named = (fileName: Buffer, flags = 0, extraFields: { id: number; data: Buffer }[] = []) =>
  entryName({ fileName, generalPurposeBitFlag: flags, extraFields });

test.each([
  ["utf8", "Grès beige_Höhe.png"],
  ["utf8", "煉瓦_色.png"],
  ["cp437", "Eiche_Höhe.png"],
  ["cp437", "chêne/rugosité.png"],
  ["win1252", "Eiche_Höhe.png"],
  ["win1252", "Fußboden/Grès.png"],
  ["shift_jis", "煉瓦/基本色.png"],
  ["shift_jis", "テクスチャ_法線.png"],
  ["ascii", "plain/name_01.png"],
])("a name in %s that says nothing of it is read: %s", (encoding, name) => {
  expect(named(iconv.encode(name, encoding))).toBe(name);
});

test("what the entry says comes first", () => {
  expect(named(Buffer.from("Höhe.png"), 0x800)).toBe("Höhe.png");
  const head = Buffer.alloc(5);
  head[0] = 1;
  head.writeUInt32LE(crc32(Buffer.from("?.png")), 1);
  const fields = [{ id: 0x7075, data: Buffer.concat([head, Buffer.from("壁.png")]) }];
  expect(named(Buffer.from("?.png"), 0, fields)).toBe("壁.png");
  // Of another name it says nothing.
  expect(named(Buffer.from("other.png"), 0, fields)).toBe("other.png");
});
