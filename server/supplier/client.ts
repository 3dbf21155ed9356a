import { createHash } from "node:crypto";
import { pipeline, Readable, Transform } from "node:stream";
import { z } from "zod";
import { catalogueSchema, type Catalogue, type Order } from "#core/supply/catalogue";
import { plainJson, plainLine } from "#core/text/plainText";
import { productSheetSchema, type ProductSheet } from "#core/supply/productSheet";
import { fileStore } from "#server/store/store";
import { settings } from "#server/settings";

/** How long an answer may take to begin, and how long it may say nothing once it runs. */
export interface Patience {
  beginMs: number;
  silentMs: number;
}
const PATIENCE: Patience = { beginMs: 20_000, silentMs: 20_000 };
/** Somebody waits for a page with the catalogue on it. */
const CATALOGUE_PATIENCE: Patience = { beginMs: 5_000, silentMs: 5_000 };
/** Making the pictures of a variant, or a large zip, takes its time. */
const PACKAGE_PATIENCE: Patience = { beginMs: 120_000, silentMs: 30_000 };

const LARGEST_JSON = 32 * 2 ** 20;

/**
 * What a supplier did wrong, in words. `passing`: it may be gone at the next try (no answer, a fault of theirs), while
 * an answer that lies will lie again.
 */
export class SupplierError extends Error {
  constructor(
    message: string,
    readonly passing: boolean,
  ) {
    super(message);
    this.name = "SupplierError";
  }
}

/** A kept package, and what it weighs. */
export interface Fetched {
  sha256: string;
  bytes: number;
}

/** The suppliers' service at an address of the studio's settings; no other address is ever asked. */
export function supplierClient(address: string, patience: Partial<Patience> = {}) {
  async function ask(path: string, body: unknown, waits: Patience, signal?: AbortSignal): Promise<Response> {
    // For the head of the answer only: a large body may take longer, as long as it comes.
    const tooSlow = new AbortController();
    const wait = patience.beginMs ?? waits.beginMs;
    const timer = setTimeout(() => tooSlow.abort(), wait);
    let response: Response;
    try {
      response = await fetch(new URL(path, address), {
        ...(body !== undefined && {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify(body),
        }),
        // An address that sends us elsewhere could send us anywhere.
        redirect: "manual",
        signal: signal ? AbortSignal.any([signal, tooSlow.signal]) : tooSlow.signal,
      });
    } catch (error) {
      if (signal?.aborted) throw error;
      throw new SupplierError(
        tooSlow.signal.aborted
          ? `The supplier did not answer within ${seconds(wait)}.`
          : "The supplier's service cannot be reached.",
        true,
      );
    } finally {
      clearTimeout(timer);
    }
    if (response.status >= 300 && response.status < 400)
      throw new SupplierError(
        "The supplier's service sends us to another address; that is not followed.",
        false,
      );
    if (!response.ok) {
      const said = await readJson(response, z.object({ detail: z.string().max(500) }), waits).catch(
        () => undefined,
      );
      throw new SupplierError(
        `The supplier's service answers ${response.status}${said ? `: ${said.detail}` : ""}.`,
        response.status >= 500,
      );
    }
    return response;
  }

  /** The body, piece by piece; a pause that is too long or a body that is too large ends it. */
  async function* pieces(response: Response, waits: Patience, most: number, what: string) {
    const reader = response.body!.getReader();
    const wait = patience.silentMs ?? waits.silentMs;
    let bytes = 0;
    try {
      for (;;) {
        const next = await within(reader.read(), wait).catch((error: unknown) => {
          if (error instanceof SupplierError) throw error;
          throw new SupplierError(
            `The connection to the supplier broke after ${mebibytes(bytes)} of ${what}.`,
            true,
          );
        });
        if (next.done) return;
        bytes += next.value.length;
        if (bytes > most)
          throw new SupplierError(
            `The supplier sends more than ${mebibytes(most)} for ${what}; it was broken off.`,
            false,
          );
        yield Buffer.from(next.value);
      }
    } finally {
      await reader.cancel().catch(() => undefined);
    }
  }

  async function readJson<T>(response: Response, schema: z.ZodType<T>, waits: Patience): Promise<T> {
    const type = response.headers.get("Content-Type") ?? "";
    if (!type.includes("json"))
      throw new SupplierError(`The supplier sends ${nameOfType(type)} where JSON belongs.`, false);
    const parts: Buffer[] = [];
    for await (const piece of pieces(response, waits, LARGEST_JSON, "a list")) parts.push(piece);
    let json: unknown;
    try {
      json = JSON.parse(Buffer.concat(parts).toString("utf8"));
    } catch {
      throw new SupplierError("The supplier's list is no whole JSON.", false);
    }
    const read = schema.safeParse(plainJson(json));
    if (read.success) return read.data;
    const place = plainLine(read.error.issues[0].path.join("/"), 120);
    throw new SupplierError(
      `The supplier's list does not fit: “${place}” is missing, or is not what belongs there.`,
      false,
    );
  }

  return {
    async catalogue(): Promise<Catalogue> {
      return readJson(
        await ask("/catalogue", undefined, CATALOGUE_PATIENCE),
        catalogueSchema,
        CATALOGUE_PATIENCE,
      );
    },

    /** The product sheet of an order: which files it would bring, with their hashes. */
    async listing(order: Order, signal?: AbortSignal): Promise<ProductSheet> {
      const response = await ask("/listing", order, PACKAGE_PATIENCE, signal);
      return readJson(response, productSheetSchema, PACKAGE_PATIENCE);
    },

    /** A JPEG of a product. */
    async picture(code: string): Promise<Buffer> {
      const response = await ask(`/products/${encodeURIComponent(code)}/picture`, undefined, PATIENCE);
      const parts: Buffer[] = [];
      for await (const piece of pieces(response, PATIENCE, 4 * 2 ** 20, "a picture")) parts.push(piece);
      const bytes = Buffer.concat(parts);
      if (bytes.length < 3 || bytes.readUIntBE(0, 3) !== 0xffd8ff)
        throw new SupplierError("The supplier's picture is no JPEG.", false);
      return bytes;
    },

    /**
     * Streams a package into the store and proves it: a zip by its type and its first bytes, as long as announced, and with
     * the digest that was announced (RFC 9530). `most` bounds its size in bytes.
     */
    async fetchPackage(
      order: Order & { without: string[] },
      most: number,
      told: (bytes: number, total: number | null) => void,
      signal?: AbortSignal,
    ): Promise<Fetched> {
      const response = await ask("/packages", order, PACKAGE_PATIENCE, signal);
      const type = response.headers.get("Content-Type") ?? "";
      if (!/^application\/(zip|octet-stream)\b/.test(type))
        throw new SupplierError(`The supplier sends ${nameOfType(type)} where a zip belongs.`, false);
      const announced = readLength(response.headers.get("Content-Length"));
      if (announced !== null && announced > most)
        throw new SupplierError(
          `The supplier announces ${mebibytes(announced)}; its list makes ${mebibytes(most)} at most.`,
          false,
        );
      const hash = createHash("sha256");
      let bytes = 0;
      const proof = new Transform({
        transform(chunk: Buffer, _encoding, done) {
          if (bytes === 0 && !(chunk[0] === 0x50 && chunk[1] === 0x4b))
            return done(new SupplierError("What the supplier sends begins like no zip.", false));
          hash.update(chunk);
          bytes += chunk.length;
          told(bytes, announced);
          done(null, chunk);
        },
        flush(done) {
          if (announced !== null && bytes !== announced)
            return done(
              new SupplierError(
                `The package has ${bytes} bytes; ${announced} were announced.`,
                bytes < announced,
              ),
            );
          const digest = readDigest(response.headers.get("Repr-Digest"));
          if (digest && digest !== hash.digest("base64"))
            return done(
              new SupplierError("The package does not have the content that its digest promises.", false),
            );
          done();
        },
      });
      const source = Readable.from(pieces(response, PACKAGE_PATIENCE, most, "the package"));
      // Either end's fault ends the other; what it was comes out where the store reads.
      pipeline(source, proof, () => undefined);
      return fileStore().keep(proof);
    },
  };
}

export type SupplierClient = ReturnType<typeof supplierClient>;

/** The client of the service that the settings name; undefined where they name none. */
export function ownSupplierClient(): SupplierClient | undefined {
  const { suppliersAddress } = settings();
  return suppliersAddress === undefined ? undefined : supplierClient(suppliersAddress);
}

function within<T>(work: Promise<T>, ms: number): Promise<T> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(
      () => reject(new SupplierError(`The supplier fell silent for ${seconds(ms)}.`, true)),
      ms,
    );
    work.then(resolve, reject).finally(() => clearTimeout(timer));
  });
}

const seconds = (ms: number) => `${Math.round(ms / 100) / 10} s`;
const mebibytes = (bytes: number) => `${(bytes / 2 ** 20).toFixed(1)} MiB`;

const nameOfType = (type: string) =>
  /html/i.test(type)
    ? "a web page"
    : type === ""
      ? "something without a type"
      : `“${type.split(";")[0].slice(0, 60)}”`;

function readLength(header: string | null): number | null {
  return header !== null && /^\d{1,15}$/.test(header) ? Number(header) : null;
}

function readDigest(header: string | null): string | undefined {
  return /sha-256=:([A-Za-z0-9+/]{43}=):/.exec(header ?? "")?.[1];
}
