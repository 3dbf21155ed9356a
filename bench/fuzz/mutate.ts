type Random = () => number;

const LENGTHS = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0x8000, 0xffff, 0x10000, 0x7fffffff, 0x80000000, 0xffffffff];

const below = (random: Random, n: number) => Math.floor(random() * n);

type Mutator = (bytes: Buffer, random: Random) => Buffer;

/** Ways to harm a file: as a bad line does, and as somebody does who knows where lengths stand. */
const MUTATORS: Mutator[] = [
  function flipBits(bytes, random) {
    for (let n = 1 + below(random, 8); n > 0; n--)
      bytes[below(random, bytes.length)] ^= 1 << below(random, 8);
    return bytes;
  },
  function flipBitsOfHead(bytes, random) {
    for (let n = 1 + below(random, 6); n > 0; n--)
      bytes[below(random, Math.min(128, bytes.length))] ^= 1 << below(random, 8);
    return bytes;
  },
  function cutEnd(bytes, random) {
    return bytes.subarray(0, below(random, bytes.length));
  },
  function cutMiddle(bytes, random) {
    const [a, b] = [below(random, bytes.length), below(random, bytes.length)].sort((x, y) => x - y);
    return Buffer.concat([bytes.subarray(0, a), bytes.subarray(b)]);
  },
  function repeatPart(bytes, random) {
    const from = below(random, bytes.length);
    const part = bytes.subarray(from, from + 1 + below(random, 64));
    return Buffer.concat([
      bytes.subarray(0, from),
      ...Array<Buffer>(1 + below(random, 2000)).fill(part),
      bytes.subarray(from),
    ]);
  },
  function setNumber(bytes, random) {
    const value = LENGTHS[below(random, LENGTHS.length)];
    const size = [1, 2, 4][below(random, 3)];
    if (bytes.length < size) return bytes;
    // Headers stand in front, lists of entries at the end.
    const near = Math.min(bytes.length - size, 200);
    const at = [
      below(random, near + 1),
      bytes.length - size - below(random, near + 1),
      below(random, bytes.length - size + 1),
    ][below(random, 3)];
    const fitting = value & (size === 4 ? 0xffffffff : (1 << (8 * size)) - 1);
    if (random() < 0.5) bytes.writeUIntLE(fitting >>> 0, at, size);
    else bytes.writeUIntBE(fitting >>> 0, at, size);
    return bytes;
  },
  function fillRange(bytes, random) {
    const from = below(random, bytes.length);
    return bytes.fill(
      [0, 0x20, 0x41, 0xff][below(random, 4)],
      from,
      Math.min(bytes.length, from + 1 + below(random, 400)),
    );
  },
  function insertText(bytes, random) {
    const texts = [
      "\0",
      "\u0000\u0001\u001b[31m",
      "../../../etc/passwd",
      "x".repeat(9000),
      '"',
      "{",
      "<",
      "[".repeat(5000),
      "\u202e",
      // As JSON writes it: it comes through a parser that its raw self does not.
      "\\u0000",
      "\\ud800",
      "1e999",
      "-1",
      "NaN",
      " ".repeat(50_000),
    ];
    const at = below(random, bytes.length);
    return Buffer.concat([
      bytes.subarray(0, at),
      Buffer.from(texts[below(random, texts.length)]),
      bytes.subarray(at),
    ]);
  },
  function shuffleParts(bytes, random) {
    const size = 1 + below(random, Math.max(1, bytes.length / 4));
    const [a, b] = [below(random, bytes.length), below(random, bytes.length)];
    const copy = Buffer.from(bytes.subarray(a, a + size));
    copy.copy(bytes, b);
    return bytes;
  },
  function noiseBehind(bytes, random) {
    const noise = Buffer.from(Array.from({ length: 1 + below(random, 300) }, () => below(random, 256)));
    return Buffer.concat([bytes, noise]);
  },
];

/** A copy that was harmed once or a few times. */
export function mutate(bytes: Buffer, random: Random): Buffer {
  let mutant: Buffer = Buffer.from(bytes);
  for (let n = 1 + below(random, 3); n > 0 && mutant.length > 0; n--)
    mutant = Buffer.from(MUTATORS[below(random, MUTATORS.length)](mutant, random));
  return mutant;
}
