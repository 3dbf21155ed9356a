import { createHash } from "node:crypto";
import { mkdir, readFile, rename, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { Piscina } from "piscina";
import type { SheetFile } from "#core/supply/productSheet";
import type { Drawing, DrawTask } from "./draw";
import { DRAWN_LINES } from "./lines";

export interface DrawnVariant {
  heightAmplitudeMm: number;
  /** By role; `path` is where the file lies on this machine, `file` what the sheet says of it. */
  files: { path: string; file: SheetFile }[];
}

/** Draws variants when they are first asked for, and keeps them in a folder. */
export function openDrawings(folder: string) {
  const pool = new Piscina<DrawTask, Drawing>({
    filename: new URL("./drawThread.mjs", import.meta.url).href,
    maxThreads: 1,
    idleTimeout: 60_000,
  });
  const running = new Map<string, Promise<DrawnVariant>>();

  async function make(task: DrawTask, place: string): Promise<DrawnVariant> {
    const line = DRAWN_LINES.find(({ facts }) => facts.id === task.line)!;
    const { files, heightAmplitudeMm } = await pool.run(task);
    const variant: DrawnVariant = { heightAmplitudeMm, files: [] };
    const half = `${place}.half`;
    await rm(half, { recursive: true, force: true });
    await mkdir(half, { recursive: true });
    for (const { role, bytes } of files) {
      const name = `${role}.${role === "reference" ? "jpg" : EXTENSIONS[task.type]}`;
      await writeFile(join(half, name), bytes);
      variant.files.push({
        path: join(place, name),
        file: {
          path: [task.code, task.joint, name].filter(Boolean).join("/"),
          role,
          sha256: createHash("sha256").update(bytes).digest("hex"),
          bytes: bytes.length,
          normalDirection: role === "geometry_normal" ? line.normalDirection : null,
        },
      });
    }
    await writeFile(join(half, "variant.json"), JSON.stringify(variant));
    await rename(half, place);
    return variant;
  }

  return {
    async variant(task: DrawTask): Promise<DrawnVariant> {
      const place = join(folder, `${task.code}_${task.joint ?? "none"}_${task.pixels}_${task.type}`);
      const kept = await readFile(join(place, "variant.json"), "utf8").catch(() => undefined);
      if (kept !== undefined) return JSON.parse(kept) as DrawnVariant;
      const there = running.get(place);
      if (there) return there;
      const made = make(task, place).finally(() => running.delete(place));
      running.set(place, made);
      return made;
    },
    close: () => pool.destroy(),
  };
}

export type Drawings = ReturnType<typeof openDrawings>;

const EXTENSIONS = { png: "png", jpeg: "jpg", tiff: "tif" } as const;
