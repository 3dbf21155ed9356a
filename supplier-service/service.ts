import { rm } from "node:fs/promises";
import { join, resolve } from "node:path";
import express, { type Express, type NextFunction, type Request, type Response } from "express";
import { z } from "zod";
import { orderSchema, type Line, type Order } from "#core/supply/catalogue";
import { openDrawings } from "./drawn";
import { CATALOGUE } from "./offer";
import { prepare, writePackage } from "./writePackage";

const packageSchema = orderSchema.extend({
  /** Files that the asker has already, by SHA-256. */
  without: z
    .array(z.string().regex(/^[0-9a-f]{64}$/))
    .max(5000)
    .default([]),
});

/** Pixels of the picture beside a product. */
const PICTURE = 320;

export interface Service {
  app: Express;
  /** Draws the catalogue's pictures ahead of those who leaf through it. */
  drawAhead(): Promise<void>;
  close(): Promise<void>;
}

class Refusal extends Error {}

/**
 * A stand-in for suppliers' services: a catalogue, pictures, and packages with a product sheet, all drawn by the pattern
 * maker. It keeps what it has drawn in a folder.
 */
export function createService(folder: string): Service {
  const drawings = openDrawings(join(resolve(folder), "drawn"));
  const app = express();
  app.disable("x-powered-by");
  app.use(express.json({ limit: "1mb" }));

  const picture = (line: Line, code: string) => {
    const joint = line.products.find((product) => product.code === code)!.joints[0]?.id ?? null;
    return drawings.variant({ line: line.id, code, joint, pixels: PICTURE, type: "jpeg" });
  };

  app.get("/catalogue", (_request, response) => void response.json(CATALOGUE));

  app.get("/products/:code/picture", (request, response, next) => {
    const { code } = request.params;
    const line = CATALOGUE.lines.find(
      ({ layout, products }) => layout !== "plain" && products.some((product) => product.code === code),
    );
    if (!line) return void response.status(404).json({ detail: "No such picture." });
    picture(line, code)
      .then(({ files }) =>
        response.sendFile(files.find(({ file }) => file.role === "reference")!.path, { dotfiles: "allow" }),
      )
      .catch(next);
  });

  app.post("/listing", (request, response, next) => {
    const work = async () => {
      const order = read(orderSchema, request.body);
      response.json((await prepare(order, lineFor(order), drawings)).sheet);
    };
    work().catch(next);
  });

  app.post("/packages", (request, response, next) => {
    const work = async () => {
      const order = read(packageSchema, request.body);
      const prepared = await prepare(order, lineFor(order), drawings);
      const made = await writePackage(prepared, new Set(order.without), join(resolve(folder), "packages"));
      response.set({
        "Content-Type": "application/zip",
        "Content-Length": String(made.bytes),
        // RFC 9530
        "Repr-Digest": `sha-256=:${made.sha256}:`,
      });
      response.sendFile(made.file, { dotfiles: "allow" }, (error) => {
        rm(made.file, { force: true }).catch(next);
        if (error && !response.headersSent) next(error);
      });
    };
    work().catch(next);
  });

  app.use((error: Error, _request: Request, response: Response, next: NextFunction) => {
    if (response.headersSent) return next(error);
    const refused = error instanceof Refusal || (error as { status?: number }).status === 400;
    if (!refused) console.error(error);
    response.status(refused ? 400 : 500).json({ detail: refused ? error.message : "It broke here." });
  });
  let closed = false;
  return {
    app,
    async drawAhead() {
      for (const line of CATALOGUE.lines.filter(({ layout }) => layout !== "plain"))
        for (const { code } of line.products) if (!closed) await picture(line, code);
    },
    close() {
      closed = true;
      return drawings.close();
    },
  };
}

function read<T>(schema: z.ZodType<T>, body: unknown): T {
  const result = schema.safeParse(body);
  if (result.success) return result.data;
  const [issue] = result.error.issues;
  throw new Refusal(`${issue.path.join("/")}: ${issue.message}`);
}

/** @throws {Refusal} where the order asks for what the line does not have */
function lineFor(order: Order): Line {
  const line = CATALOGUE.lines.find(({ id }) => id === order.line);
  if (!line) throw new Refusal(`There is no line “${order.line}”.`);
  for (const { code, joint } of order.products) {
    const product = line.products.find((one) => one.code === code);
    if (!product) throw new Refusal(`The line has no product “${code}”.`);
    const fits = product.joints.length === 0 ? joint === null : product.joints.some(({ id }) => id === joint);
    if (!fits) throw new Refusal(`“${code}” does not come with the joint “${joint ?? "none"}”.`);
  }
  if (line.layout !== "plain" && !line.pixels.includes(order.pixels))
    throw new Refusal(`There are no pictures of ${order.pixels} px; there are ${line.pixels.join(", ")}.`);
  return line;
}
