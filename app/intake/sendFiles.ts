import { Upload } from "tus-js-client";

/** A file to send with its path from the folder that was dropped or picked. */
export interface FileToSend {
  file: File;
  path: string;
}

export interface Sent {
  files: number;
  bytes: number;
}

/** Sends at once; more do not make a line faster. */
const LANES = 3;
/** Waits between tries after a lost line, in ms; the last is repeated for about half an hour. */
const TRIES = [0, 1000, 3000, 5000, 10_000, 20_000, ...Array<number>(60).fill(30_000)];

/**
 * Sends the files of an intake one by one, so that each goes on where it was after a lost connection or a closed lid; those
 * that arrived before are left out.
 * @returns a promise that is kept once all have arrived
 */
export async function sendFiles(
  intake: string,
  files: FileToSend[],
  arrived: { position: number; name: string; bytes: number }[],
  told: (sent: Sent) => void,
  signal: AbortSignal,
): Promise<void> {
  const bytesOf = files.map((_, i) =>
    arrived.some(({ position }) => position === i) ? files[i].file.size : 0,
  );
  const done = new Set(arrived.map(({ position }) => position));
  const tell = () => told({ files: done.size, bytes: bytesOf.reduce((sum, bytes) => sum + bytes, 0) });
  tell();
  const waiting = files.map((_, i) => i).filter((i) => !done.has(i));
  const lane = async () => {
    for (let i = waiting.shift(); i !== undefined; i = waiting.shift()) {
      const at = i;
      await sendOne(intake, at, files[at], signal, (bytes) => {
        bytesOf[at] = bytes;
        tell();
      });
      bytesOf[at] = files[at].file.size;
      done.add(at);
      tell();
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
}

function sendOne(
  intake: string,
  position: number,
  { file, path }: FileToSend,
  signal: AbortSignal,
  told: (bytes: number) => void,
): Promise<void> {
  return new Promise((resolve, reject) => {
    if (signal.aborted) return reject(new DOMException("Stopped", "AbortError"));
    const upload = new Upload(file, {
      endpoint: "/api/v1/uploads",
      metadata: { intake, position: String(position), name: path },
      retryDelays: TRIES,
      chunkSize: 32 * 2 ** 20,
      storeFingerprintForResuming: true,
      removeFingerprintOnSuccess: true,
      fingerprint: () => Promise.resolve(`kalonomy ${intake} ${position} ${file.size} ${file.lastModified}`),
      onProgress: told,
      onSuccess: () => resolve(),
      onError: reject,
      // What the server refuses stays refused; a lost line is tried again.
      onShouldRetry: (error) => {
        const status = "originalResponse" in error ? (error.originalResponse?.getStatus() ?? 0) : 0;
        return status === 0 || status === 423 || status >= 500;
      },
    });
    signal.addEventListener("abort", () => {
      void upload.abort();
      reject(new DOMException("Stopped", "AbortError"));
    });
    void upload.findPreviousUploads().then((before) => {
      if (before.length > 0) upload.resumeFromPreviousUpload(before[0]);
      upload.start();
    });
  });
}
