import type { IncomingMessage } from "node:http";
import busboy from "busboy";
import { formatBytes } from "#core/length/formatBytes";
import { plainLine } from "#core/text/plainText";
import { safeName } from "#server/opening/safeName";
import { Problem } from "#server/problem";
import { fileStore } from "#server/store/store";

/** One file that was sent: its relative path, and where it is kept. */
export interface Upload {
  name: string;
  sha256: string;
  bytes: number;
}

interface FormLimits {
  /** The field that holds the files; those of others are passed over. */
  field: string;
  mostFiles: number;
  /** Bytes of one file. */
  mostOfOne: number;
  /** Bytes of the whole request, counted while it comes: what its sender may still hand in. */
  most: number;
}

/**
 * Streams the files of a multipart request to the store; what is in them is for the worker to read. A connection that breaks leaves
 * nothing behind.
 * @throws {Problem} 413 where it is too large, 415 where it is no form, 400 where it breaks off
 */
export function receiveForm(
  request: IncomingMessage,
  { field, mostFiles, mostOfOne, most }: FormLimits,
): Promise<{ uploads: Upload[]; fields: Record<string, string> }> {
  return new Promise((resolve, reject) => {
    let form: busboy.Busboy;
    try {
      form = busboy({
        headers: request.headers,
        defParamCharset: "utf8",
        preservePath: true,
        limits: { files: mostFiles, fields: 10, fieldSize: 10_000, fileSize: mostOfOne },
      });
    } catch {
      reject(new Problem(415, "Not a form", "Send the files as multipart/form-data."));
      return;
    }
    const kept: Promise<Upload>[] = [];
    const fields: Record<string, string> = {};
    const fail = (error: unknown) => {
      request.unpipe(form);
      request.resume();
      // Files that are still open end with it, and leave nothing behind.
      form.destroy();
      reject(error instanceof Error ? error : new Error(String(error)));
    };
    let bytes = 0;
    request.on("data", (chunk: Buffer) => {
      bytes += chunk.length;
      if (bytes > most)
        fail(new Problem(413, "Too much", `That is more than you may hand in today (${formatBytes(most)}).`));
    });
    form.on("field", (name, value) => {
      fields[plainLine(name)] = plainLine(value);
    });
    form.on("file", (name, stream, { filename }) => {
      if (name !== field) {
        stream.resume();
        return;
      }
      const fileName = safeName(filename ?? "");
      const file = fileStore()
        .keep(stream)
        .then((sum) => {
          if (stream.truncated)
            throw new Problem(
              413,
              "Too large",
              `“${fileName}” is larger than ${Math.round(mostOfOne / 2 ** 20)} MiB.`,
            );
          return { name: fileName, ...sum };
        });
      file.catch(fail);
      kept.push(file);
    });
    form.on("error", () =>
      fail(new Problem(400, "Broken upload", "The upload broke off or is no proper form. Send it again.")),
    );
    form.on(
      "close",
      () =>
        void Promise.all(kept)
          .then((uploads) => resolve({ uploads, fields }))
          .catch(fail),
    );
    request.on("aborted", () => form.destroy(new Error("aborted")));
    request.pipe(form);
  });
}
