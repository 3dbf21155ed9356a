import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import S3rver from "s3rver";

/**
 * An object store of a test's own with a bucket “studio”. It knows no checksums, ignores encryption and leaves an object's time as it
 * was when it is copied onto itself.
 */
export async function openBucketServer() {
  process.env.AWS_ACCESS_KEY_ID = "S3RVER";
  process.env.AWS_SECRET_ACCESS_KEY = "S3RVER";
  const directory = await mkdtemp(join(tmpdir(), "kalonomy-bucket-"));
  const server = new S3rver({
    port: 0,
    address: "127.0.0.1",
    silent: true,
    directory,
    configureBuckets: [{ name: "studio", configs: [] }],
  });
  const { port } = await server.run();
  return {
    endpoint: `http://127.0.0.1:${port}`,
    async close() {
      await server.close();
      await rm(directory, { recursive: true, force: true });
    },
  };
}
