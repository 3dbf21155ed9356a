import type { Bucket } from "#server/store/bucket";
import type { Place } from "#server/destination/place";
import { isStoreTrouble } from "#server/ownFault";
import { fileStore } from "#server/store/store";

/** By the object store's own names of errors, and the system's of a connection. */
const WORDS: Record<string, string> = {
  NoSuchBucket: "has no bucket. Have it made, or its name in the settings put right",
  AccessDenied: "may not be written to by the worker. Have its rights changed",
  InvalidAccessKeyId: "does not know the worker's key. Have the key in the settings put right",
  SignatureDoesNotMatch: "does not know the worker's key. Have the key in the settings put right",
  CredentialsProviderError: "has no key in the settings. Have one set",
  QuotaExceeded: "is full. Make room",
  EntityTooLarge: "takes no file that large. Deliver fewer pixels",
  ECONNREFUSED: "is not reached. Have its object store started",
  ENOTFOUND: "is not reached. Have the address of its object store put right",
  ETIMEDOUT: "is not reached. Have its object store looked at",
  ServiceUnavailable: "is not answered by its object store. Wait",
  SlowDown: "is not answered by its object store. Wait",
};

const OTHERWISE = "is not reached, or refuses the worker. Have its object store looked at";

/** A folder of a destination in a bucket. What somebody else wrote there carries no hash of ours, and is replaced. */
export function bucketPlace(bucket: Bucket, folder: string): Place {
  const key = (path: string) => `${folder}/${path}`;
  return {
    hashAt: (path) => bucket.notedHash(key(path)),
    put: (path, sha256) =>
      fileStore().withLocal([sha256], (pathOf) => bucket.put(key(path), pathOf(sha256), sha256)),
    async *list() {
      for await (const { path } of bucket.list(`${folder}/`)) yield path.slice(folder.length + 1);
    },
    words(error) {
      const { name = "", code = "" } = error as { name?: string; code?: string };
      return WORDS[name] ?? WORDS[code] ?? (isStoreTrouble(error) ? OTHERWISE : undefined);
    },
  };
}
