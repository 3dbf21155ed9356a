import { join } from "node:path";
import { bucketUploads } from "#server/intake/receiving/bucketUploads";
import { folderUploads } from "#server/intake/receiving/folderUploads";
import type { UploadPlace } from "#server/intake/receiving/uploadPlace";
import { settings } from "#server/settings";
import { bucketOfStudio } from "#server/store/store";

let made: UploadPlace | undefined;

/** In the bucket, so that any machine can go on with them, or else in the data folder. */
export function uploads(): UploadPlace {
  const folder = join(settings().dataFolder, "incoming", "uploads");
  const bucket = bucketOfStudio();
  return (made ??= bucket ? bucketUploads(bucket, folder) : folderUploads(folder));
}
