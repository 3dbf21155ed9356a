import type { DataStore, Upload } from "@tus/server";
import type { Kept } from "#server/store/fileStore";

/** Where uploads lie until they are whole: what the protocol writes to, and what becomes of it. */
export interface UploadPlace {
  protocol: DataStore;
  /** Hands a whole upload to the file store. @throws where some of it is missing */
  take(upload: Upload): Promise<Kept>;
  /** Takes away all of an upload that lies there. */
  drop(id: string): Promise<void>;
  /** Those of which anything lies there. */
  ids(): Promise<string[]>;
}
