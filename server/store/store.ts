import type { FileStore } from "#server/store/fileStore";
import { folderStore } from "#server/store/folderStore";
import { objectStore } from "#server/store/objectStore";
import { s3Bucket } from "#server/store/s3Bucket";
import { settings } from "#server/settings";

let made: FileStore | undefined;

/** The process's store: the bucket that the environment names, or else its data folder. */
export function fileStore(): FileStore {
  const { bucket, dataFolder } = settings();
  return (made ??= bucket ? objectStore(s3Bucket(bucket), dataFolder) : folderStore(dataFolder));
}
