/** s15Fixed16 of ICC.1:2001-04. */
const fixed = (value: number) => {
  const bytes = Buffer.alloc(4);
  bytes.writeInt32BE(Math.round(value * 65536));
  return bytes;
};
const tag = (type: string, ...parts: Buffer[]) => Buffer.concat([Buffer.from(`${type}\0\0\0\0`), ...parts]);
const xyz = (values: number[]) => tag("XYZ ", ...values.map(fixed));

/** D50, the white of the space that profiles meet in. */
const D50 = [0.9642, 1, 0.8249];

/**
 * A monitor's profile (version 2) with one power for all channels.
 * @param primaries XYZ of full red, green and blue, adapted to D50; without them it is one of greys
 */
export function iccProfile(name: string, gamma: number, primaries?: number[][]): Buffer {
  const count = Buffer.alloc(4);
  count.writeUInt32BE(1);
  const power = Buffer.alloc(4);
  power.writeUInt16BE(Math.round(gamma * 256));
  const curve = tag("curv", count, power);
  const length = Buffer.alloc(4);
  length.writeUInt32BE(name.length + 1);
  const tags: [signature: string, data: Buffer][] = [
    ["desc", tag("desc", length, Buffer.from(`${name}\0`), Buffer.alloc(78))],
    ["wtpt", xyz(D50)],
    ...(primaries
      ? (["r", "g", "b"] as const).flatMap((channel, i): [string, Buffer][] => [
          [`${channel}XYZ`, xyz(primaries[i])],
          [`${channel}TRC`, curve],
        ])
      : ([["kTRC", curve]] as [string, Buffer][])),
  ];
  const header = Buffer.alloc(128);
  header.writeUInt32BE(0x02400000, 8);
  header.write(`mntr${primaries ? "RGB " : "GRAY"}XYZ `, 12);
  header.write("acsp", 36);
  Buffer.concat(D50.map(fixed)).copy(header, 68);
  const table = Buffer.alloc(4 + tags.length * 12);
  table.writeUInt32BE(tags.length);
  const bodies: Buffer[] = [];
  let at = header.length + table.length;
  for (const [i, [signature, data]] of tags.entries()) {
    table.write(signature, 4 + i * 12);
    table.writeUInt32BE(at, 8 + i * 12);
    table.writeUInt32BE(data.length, 12 + i * 12);
    const padded = Buffer.concat([data, Buffer.alloc((4 - (data.length % 4)) % 4)]);
    bodies.push(padded);
    at += padded.length;
  }
  header.writeUInt32BE(at);
  return Buffer.concat([header, table, ...bodies]);
}

/** Wider than sRGB, mostly in its greens. */
export const WIDE_PRIMARIES = [
  [0.60974, 0.31111, 0.01947],
  [0.20528, 0.62567, 0.06087],
  [0.14919, 0.06322, 0.74457],
];
