import type { Bucket } from "#server/store/bucket";
import type { FileStore } from "#server/store/fileStore";
import { folderStore } from "#server/store/folderStore";
import { objectStore } from "#server/store/objectStore";
import { s3Bucket } from "#server/store/s3Bucket";
import { settings } from "#server/settings";

let made: FileStore | undefined;
let connected: Bucket | undefined;

/** The process's store: the bucket that the environment names, or else its data folder. */
export function fileStore(): FileStore {
  const bucket = bucketOfStudio();
  const { dataFolder } = settings();
  return (made ??= bucket ? objectStore(bucket, dataFolder) : folderStore(dataFolder));
}

/** The bucket that the environment names; one connection for the process. */
export function bucketOfStudio(): Bucket | undefined {
  const { bucket } = settings();
  return bucket && (connected ??= s3Bucket(bucket));
}
