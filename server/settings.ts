import { availableParallelism } from "node:os";
import { resolve } from "node:path";
import { z } from "zod";

const prefix = z
  .string()
  .regex(/^([\w.-]+\/)*$/, "is names that each end with a slash")
  .default("");

const settingsSchema = z.object({
  DATABASE_URL: z.string().startsWith("postgres"),
  /** Folder for files, previews and destinations. */
  KALONOMY_DATA: z
    .string()
    .min(1)
    .transform((path) => resolve(path)),
  /** Signs session cookies. */
  KALONOMY_SECRET: z.string().min(32, "needs 32 characters or more"),
  /** Folder that holds the destinations; by default inside KALONOMY_DATA. */
  KALONOMY_DESTINATIONS: z.string().min(1).optional(),
  /** A bucket that holds the destinations, in place of a folder; spoken to as the one for files is. */
  KALONOMY_DESTINATIONS_BUCKET: z.string().min(1).optional(),
  /** Put before every name there. */
  KALONOMY_DESTINATIONS_PREFIX: prefix,
  /** Folder that the studio drops downloads into; by default inside KALONOMY_DATA. */
  KALONOMY_DROP: z.string().min(1).optional(),
  /** Address of the suppliers' service; without one there is no catalogue. */
  KALONOMY_SUPPLIERS: z.url({ protocol: /^https?$/ }).optional(),
  /** A bucket of an object store for files and previews, in place of KALONOMY_DATA; its keys come from the SDK's own variables. */
  KALONOMY_S3_BUCKET: z.string().min(1).optional(),
  /** Put before every name in the bucket. */
  KALONOMY_S3_PREFIX: prefix,
  /** Address of an object store other than the SDK's own. */
  KALONOMY_S3_ENDPOINT: z.url({ protocol: /^https?$/ }).optional(),
  KALONOMY_S3_REGION: z.string().min(1).default("us-east-1"),
  /** Server-side encryption of what is put there. */
  KALONOMY_S3_ENCRYPTION: z.enum(["AES256", "aws:kms"]).optional(),
  /** Which of the object store's keys "aws:kms" takes, where it is not its own one. */
  KALONOMY_S3_ENCRYPTION_KEY: z.string().min(1).optional(),
  /** "needed" for an object store that knows no checksums. */
  KALONOMY_S3_CHECKSUMS: z.enum(["always", "needed"]).default("always"),
  /** "sent" lets downloads of originals go straight to the object store, by links that end after five minutes. */
  KALONOMY_S3_LINKS: z.enum(["sent", "none"]).default("none"),
  /** Set to "secure" behind HTTPS. */
  KALONOMY_COOKIES: z.enum(["secure", "plain"]).default("plain"),
  /** Threads for pixels in each worker. */
  KALONOMY_THREADS: z.coerce.number().int().min(1).max(256).optional(),
  /** Largest upload of one request, in bytes. */
  KALONOMY_MAX_UPLOAD: z.coerce
    .number()
    .int()
    .positive()
    .default(8 * 2 ** 30),
  /** All that one person may hand in within a day, in bytes. */
  KALONOMY_MAX_DAY: z.coerce
    .number()
    .int()
    .positive()
    .default(256 * 2 ** 30),
  /** Lets whoever sends this token read the figures at /metrics; without one there are none. */
  KALONOMY_METRICS: z
    .string()
    .regex(/^\S{16,}$/, "needs 16 characters or more, and no spaces")
    .optional(),
  PORT: z.coerce.number().int().min(1).max(65535).default(4600),
});

/** A bucket of an object store that speaks S3, and how it is spoken to. Keys and secrets come from the SDK's own variables. */
export interface BucketSettings {
  name: string;
  /** Put before every key; "" or ends with "/". */
  prefix: string;
  /** Address of an object store other than the SDK's own. */
  endpoint?: string;
  region: string;
  /** Server-side encryption of what is put. */
  encryption?: "AES256" | "aws:kms";
  /** The object store's key for "aws:kms"; its own one where none is named. */
  encryptionKey?: string;
  /** Whether checksums go along with every object, or only where the protocol asks for them. */
  checksums: "WHEN_SUPPORTED" | "WHEN_REQUIRED";
  /** Downloads are sent there by links that end after some minutes, in place of going through us. */
  links: boolean;
}

export type Settings = ReturnType<typeof readSettings>;

/** @throws with every wrong variable by name, never with its value: it may be a secret. */
export function readSettings(environment: NodeJS.ProcessEnv) {
  const read = settingsSchema.safeParse(environment);
  if (!read.success) {
    const wrong = read.error.issues.map((issue) => `${issue.path.join(".")}: ${issue.message}`);
    throw new Error(`The environment does not fit. ${wrong.join("; ")}`);
  }
  const env = read.data;
  return {
    databaseUrl: env.DATABASE_URL,
    dataFolder: env.KALONOMY_DATA,
    destinationsFolder: resolve(env.KALONOMY_DESTINATIONS ?? `${env.KALONOMY_DATA}/destinations`),
    dropFolder: resolve(env.KALONOMY_DROP ?? `${env.KALONOMY_DATA}/drop`),
    bucket: bucketSettings(env, env.KALONOMY_S3_BUCKET, env.KALONOMY_S3_PREFIX),
    destinationsBucket: bucketSettings(
      env,
      env.KALONOMY_DESTINATIONS_BUCKET,
      env.KALONOMY_DESTINATIONS_PREFIX,
    ),
    suppliersAddress: env.KALONOMY_SUPPLIERS,
    threads: env.KALONOMY_THREADS ?? availableParallelism(),
    secret: env.KALONOMY_SECRET,
    secureCookies: env.KALONOMY_COOKIES === "secure",
    maxUploadBytes: env.KALONOMY_MAX_UPLOAD,
    maxDayBytes: env.KALONOMY_MAX_DAY,
    metricsToken: env.KALONOMY_METRICS,
    port: env.PORT,
  };
}

function bucketSettings(
  env: z.infer<typeof settingsSchema>,
  name: string | undefined,
  prefix: string,
): BucketSettings | undefined {
  if (name === undefined) return undefined;
  return {
    name,
    prefix,
    endpoint: env.KALONOMY_S3_ENDPOINT,
    region: env.KALONOMY_S3_REGION,
    encryption: env.KALONOMY_S3_ENCRYPTION,
    encryptionKey: env.KALONOMY_S3_ENCRYPTION_KEY,
    checksums: env.KALONOMY_S3_CHECKSUMS === "always" ? "WHEN_SUPPORTED" : "WHEN_REQUIRED",
    links: env.KALONOMY_S3_LINKS === "sent",
  };
}

let read: Settings | undefined;

/** The process's settings, read from its environment once. */
export function settings(): Settings {
  return (read ??= readSettings(process.env));
}
