import { Refusal } from "#core/text/refusal";
import { open } from "node:fs/promises";
import { Transform, type Readable } from "node:stream";
import { crc32 } from "node:zlib";
import yauzl from "yauzl";
import { entryName } from "#server/opening/entryName";

/** Bounds that a download of textures stays within and a hostile archive does not. */
export const ARCHIVE_LIMITS = {
  entries: 20_000,
  bytes: 16 * 2 ** 30,
  /** Unpacked against packed size of one entry; deflate cannot do much more than 1000. */
  ratio: 250,
  /** An entry below this may be packed as tightly as it will. */
  smallEntry: 64 * 1024,
  /** The same for a zip as a whole, beyond what any may unpack to. */
  wholeRatio: 100,
  anyWhole: 64 * 2 ** 20,
};

/** What may still come out of an archive; archives inside it draw on the same. */
export interface ArchiveBudget {
  entries: number;
  bytes: number;
}

/**
 * @param packedBytes of the zip
 * @param most bytes that its sender may still hand in
 */
export const newBudget = (packedBytes: number, most = Infinity): ArchiveBudget => ({
  entries: ARCHIVE_LIMITS.entries,
  bytes: Math.min(
    ARCHIVE_LIMITS.bytes,
    most,
    ARCHIVE_LIMITS.anyWhole + ARCHIVE_LIMITS.wholeRatio * packedBytes,
  ),
});

export interface ArchiveFile {
  name: string;
  bytes: number;
  /**
   * Hands the content to `use`, which must attach to the stream before it awaits anything: a damaged entry's stream may fail in
   * the next tick. @throws {Refusal} where the content is damaged
   */
  read<T>(use: (content: Readable) => Promise<T>): Promise<T>;
}

/** Whether a file is a zip by its first bytes, whatever it is called. */
export async function looksLikeArchive(path: string): Promise<boolean> {
  const handle = await open(path, "r");
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(4), 0, 4, 0);
    return bytesRead === 4 && buffer[0] === 0x50 && buffer[1] === 0x4b && [0x03, 0x05].includes(buffer[2]);
  } finally {
    await handle.close();
  }
}

/**
 * Goes through a zip entry by entry. `onFile` gets what can be read; `onRefused` what cannot, with the reason: names
 * that lead out of the archive, encrypted entries, entries that expand beyond reason or beyond the budget.
 * @throws with a sentence where the archive as a whole cannot be read.
 */
export async function readArchive(
  path: string,
  onFile: (file: ArchiveFile) => Promise<void>,
  onRefused: (name: string, reason: string) => void,
  budget: ArchiveBudget,
): Promise<void> {
  const zip = await openZip(path);
  try {
    if (zip.entryCount === 0) throw new Refusal("The zip is empty.");
    if (zip.entryCount > budget.entries)
      throw new Refusal(
        `The zip holds ${zip.entryCount} entries; of one download, with the zips inside it, up to ${ARCHIVE_LIMITS.entries} are read.`,
      );
    budget.entries -= zip.entryCount;
    for (;;) {
      const entry = await nextEntry(zip);
      if (!entry) break;
      // As bytes, so that one bad name stops nothing.
      const name = entryName({ ...entry, fileName: entry.fileName as unknown as Buffer });
      if (name.endsWith("/")) continue;
      const refused = refusal(name, entry, budget.bytes);
      if (refused) {
        onRefused(name, refused);
        continue;
      }
      budget.bytes -= entry.uncompressedSize;
      await onFile({
        name,
        bytes: entry.uncompressedSize,
        read: (use) => readEntry(zip, entry, use),
      });
    }
  } finally {
    zip.close();
  }
}

function refusal(name: string, entry: yauzl.Entry, bytesLeft: number): string | undefined {
  const parts = name.split(/[\\/]/);
  if (parts.includes("..") || /^([\\/]|[a-z]:)/i.test(name))
    return "Its name leads out of the archive, so it was not unpacked.";
  if (entry.isEncrypted()) return "It is encrypted. Unpack it with its password and send the files.";
  if (entry.externalFileAttributes >>> 28 === 0xa) return "It is a link and not a file.";
  if (
    entry.uncompressedSize > ARCHIVE_LIMITS.smallEntry &&
    entry.uncompressedSize > entry.compressedSize * ARCHIVE_LIMITS.ratio
  )
    return `It would unpack to ${Math.round(entry.uncompressedSize / Math.max(1, entry.compressedSize))} times its size.`;
  if (entry.uncompressedSize > bytesLeft)
    return "The zip would unpack to more than its size allows; the rest was left out.";
  return undefined;
}

function openZip(path: string): Promise<yauzl.ZipFile> {
  return new Promise((resolve, reject) =>
    yauzl.open(
      path,
      { lazyEntries: true, autoClose: false, decodeStrings: false, validateEntrySizes: true },
      (error, zip) =>
        error
          ? reject(
              new Refusal("The zip is damaged: it has no readable list of its entries. Download it again."),
            )
          : resolve(zip),
    ),
  );
}

function nextEntry(zip: yauzl.ZipFile): Promise<yauzl.Entry | undefined> {
  return new Promise((resolve, reject) => {
    const settle = (done: () => void) => {
      zip.off("entry", onEntry);
      zip.off("end", onEnd);
      zip.off("error", onError);
      done();
    };
    const onEntry = (entry: yauzl.Entry) => settle(() => resolve(entry));
    const onEnd = () => settle(() => resolve(undefined));
    const onError = () =>
      settle(() => reject(new Refusal("The zip is damaged: the list of its entries breaks off.")));
    zip.on("entry", onEntry).on("end", onEnd).on("error", onError);
    zip.readEntry();
  });
}

const DAMAGED = "It is damaged inside the zip and could not be unpacked.";

function readEntry<T>(
  zip: yauzl.ZipFile,
  entry: yauzl.Entry,
  use: (content: Readable) => Promise<T>,
): Promise<T> {
  return new Promise((resolve, reject) =>
    zip.openReadStream(entry, (error, packed) => {
      if (error) return reject(new Refusal(DAMAGED));
      let sum = 0;
      const proof = new Transform({
        transform(chunk: Buffer, _encoding, done) {
          sum = crc32(chunk, sum);
          done(null, chunk);
        },
        flush: (done) => done(sum === entry.crc32 ? null : new Refusal(DAMAGED)),
      });
      // In this very tick: what the entry's stream has against it comes out where the content is read.
      packed.on("error", () => proof.destroy(new Refusal(DAMAGED)));
      packed.pipe(proof);
      use(proof).then(resolve, reject);
    }),
  );
}
