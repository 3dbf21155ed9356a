import { createReadStream } from "node:fs";
import { stat } from "node:fs/promises";
import type { Readable } from "node:stream";
import type { BucketSettings } from "#server/settings";
import type { Bucket } from "#server/store/bucket";

const LINK_SECONDS = 300;
/** S3's own limit for a copy in one request. */
const LARGEST_COPY = 5 * 2 ** 30;

/** Talks to a bucket through the official SDK, which is loaded when it is first needed. */
export function s3Bucket(settings: BucketSettings): Bucket {
  const { prefix } = settings;
  const connected = once(async () => {
    const sdk = await import("@aws-sdk/client-s3");
    const client = new sdk.S3Client({
      region: settings.region,
      ...(settings.endpoint !== undefined && { endpoint: settings.endpoint, forcePathStyle: true }),
      requestChecksumCalculation: settings.checksums,
      responseChecksumValidation: settings.checksums,
    });
    return { sdk, client };
  });
  const object = (key: string) => ({ Bucket: settings.name, Key: prefix + key });
  const encrypted = settings.encryption && {
    ServerSideEncryption: settings.encryption,
    ...(settings.encryptionKey !== undefined && { SSEKMSKeyId: settings.encryptionKey }),
  };
  /** An object store that knows no encryption takes what is to be encrypted, and says nothing. @throws after it was taken away there */
  async function mustBeEncrypted(key: string, put: { ServerSideEncryption?: string }): Promise<void> {
    if (!encrypted || put.ServerSideEncryption === settings.encryption) return;
    const { sdk, client } = await connected();
    // The answer to a file of several parts does not say it everywhere.
    const head = await client.send(new sdk.HeadObjectCommand(object(key)));
    if (head.ServerSideEncryption === settings.encryption) return;
    await client.send(new sdk.DeleteObjectCommand(object(key)));
    throw Object.assign(
      new Error(`The object store does not encrypt by ${settings.encryption}, as the settings want.`),
      { $metadata: head.$metadata },
    );
  }

  return {
    async put(key, path, sha256) {
      const { client } = await connected();
      const { Upload } = await import("@aws-sdk/lib-storage");
      const { size } = await stat(path);
      // eslint-disable-next-line no-restricted-syntax -- the SDK listens to it from the start, and its trouble is the upload's
      const Body = createReadStream(path);
      const upload = new Upload({
        client,
        params: { ...object(key), ...encrypted, Body, ContentLength: size, Metadata: { sha256 } },
        leavePartsOnError: false,
      });
      try {
        await mustBeEncrypted(key, await upload.done());
      } finally {
        Body.destroy();
      }
    },
    async putBytes(key, data) {
      const { sdk, client } = await connected();
      const put = new sdk.PutObjectCommand({ ...object(key), ...encrypted, Body: data });
      await mustBeEncrypted(key, await client.send(put));
    },
    async get(key, range) {
      const { sdk, client } = await connected();
      const Range = range && `bytes=${range.start}-${range.end}`;
      const answer = await orMissing(
        client.send(new sdk.GetObjectCommand({ ...object(key), ...(Range !== undefined && { Range }) })),
      );
      return answer?.Body as Readable | undefined;
    },
    async facts(key) {
      const { sdk, client } = await connected();
      const head = await orMissing(client.send(new sdk.HeadObjectCommand(object(key))));
      return (
        head && { path: key, bytes: head.ContentLength ?? 0, changedAt: head.LastModified?.getTime() ?? 0 }
      );
    },
    async notedHash(key) {
      const { sdk, client } = await connected();
      const head = await orMissing(client.send(new sdk.HeadObjectCommand(object(key))));
      return head?.Metadata?.sha256;
    },
    async touch(key) {
      const { sdk, client } = await connected();
      const head = await orMissing(client.send(new sdk.HeadObjectCommand(object(key))));
      if (!head || (head.ContentLength ?? 0) > LARGEST_COPY) return;
      await client.send(
        new sdk.CopyObjectCommand({
          ...object(key),
          ...encrypted,
          CopySource: encodeURI(`${settings.name}/${prefix}${key}`),
          MetadataDirective: "REPLACE",
          ...(head.Metadata && { Metadata: head.Metadata }),
        }),
      );
    },
    async remove(key) {
      const { sdk, client } = await connected();
      await client.send(new sdk.DeleteObjectCommand(object(key)));
    },
    async *list(under) {
      const { sdk, client } = await connected();
      const pages = sdk.paginateListObjectsV2({ client }, { Bucket: settings.name, Prefix: prefix + under });
      for await (const page of pages)
        for (const { Key = "", Size = 0, LastModified } of page.Contents ?? [])
          yield { path: Key.slice(prefix.length), bytes: Size, changedAt: LastModified?.getTime() ?? 0 };
    },
    async link(key, mediaType) {
      if (!settings.links) return undefined;
      const { sdk, client } = await connected();
      const { getSignedUrl } = await import("@aws-sdk/s3-request-presigner");
      const command = new sdk.GetObjectCommand({
        ...object(key),
        ResponseContentType: mediaType,
        ResponseContentDisposition: "attachment",
      });
      return getSignedUrl(client, command, { expiresIn: LINK_SECONDS });
    },
  };
}

async function orMissing<T>(answer: Promise<T>): Promise<T | undefined> {
  try {
    return await answer;
  } catch (error) {
    const { name, $metadata } = error as { name?: string; $metadata?: { httpStatusCode?: number } };
    if (name === "NoSuchKey" || name === "NotFound" || $metadata?.httpStatusCode === 404) return undefined;
    throw error;
  }
}

/** What is made the first time that it is wanted; a failure is not kept. */
function once<T>(make: () => Promise<T>): () => Promise<T> {
  let made: Promise<T> | undefined;
  return () =>
    (made ??= make().catch((error: unknown) => {
      made = undefined;
      throw error;
    }));
}
