import type { Readable } from "node:stream";
import yazl from "yazl";
import type { Account } from "#server/delivery/account";
import { fileStore } from "#server/store/store";

/** A zip of a delivery, streamed from the store: `PROFILE/MATERIAL/...` and `account.json`. The same each time. */
export function archiveOf(account: Account): Readable {
  const zip = new yazl.ZipFile();
  const mtime = new Date(account.made);
  for (const material of account.materials)
    for (const { path, sha256 } of [...material.files, material.settings])
      // Images and GLBs are compressed already.
      zip.addReadStreamLazy(path, { compress: path.endsWith(".json"), mtime }, (take) =>
        take(null, fileStore().stream(sha256)),
      );
  zip.addBuffer(Buffer.from(`${JSON.stringify(account, null, 2)}\n`), "account.json", { mtime });
  zip.end();
  const out = zip.outputStream as Readable;
  // A file that is missing or cannot be read ends the download, and nothing else.
  zip.on("error", (error: Error) => out.destroy(error));
  return out;
}
