import { readdirSync, readFileSync } from "node:fs";
import { basename, dirname, join } from "node:path";
import sharp from "sharp";
import type { IntakeImage } from "#core/candidates/candidate";
import { planCandidates } from "#core/candidates/planCandidates";
import { fetchTextures } from "./holdouts/fetchTextures";

/**
 * Sets of a Debian package whose authors say in its own lists which picture goes with which maps: whether the names of a whole folder
 * alone put them together. Prints those that do not, and the share of sets that are whole.
 */
const IS_PICTURE = /\.(png|jpe?g)$/i;
const known = (await fetchTextures()).find(({ path }) => path.includes("redeclipse-data"))!;
const root = known.path.slice(0, known.path.indexOf("/data/") + "/data".length);

/** The maps of each picture, as paths below the root. */
const partsOf = new Map<string, Set<string>>();
for (const entry of readdirSync(root, { recursive: true, withFileTypes: true })) {
  if (!entry.name.endsWith(".cfg")) continue;
  let picture: string | undefined;
  for (const line of readFileSync(join(entry.parentPath, entry.name), "utf8").split("\n")) {
    const [, slot, named = ""] = /^\s*texture\s+(\S+)\s+"?(?:<[^>]*>)?([^"\s]+)"?/.exec(line) ?? [];
    if (/^\s*setshader/.test(line) || ["0", "c"].includes(slot)) picture = undefined;
    if (!IS_PICTURE.test(named)) continue;
    if (["0", "c"].includes(slot)) picture = named;
    else if (picture && ["n", "s", "z", "g"].includes(slot))
      partsOf.set(picture, (partsOf.get(picture) ?? new Set()).add(named));
  }
}

/** A map that several pictures share is with none of them more than with the others. */
const isShared = (part: string) => [...partsOf.values()].filter((parts) => parts.has(part)).length > 1;

let [whole, sets] = [0, 0];
for (const folder of new Set([...partsOf.keys()].map((path) => dirname(path)))) {
  const names = readdirSync(join(root, folder)).filter((name) => IS_PICTURE.test(name));
  const { candidates } = planCandidates(
    await Promise.all(names.map((name) => imageOf(join(root, folder), name))),
  );
  for (const [picture, parts] of partsOf) {
    const beside = [...parts].filter(
      (path) =>
        dirname(path) === folder && names.includes(basename(path)) && path !== picture && !isShared(path),
    );
    if (dirname(picture) !== folder || !names.includes(basename(picture)) || beside.length === 0) continue;
    const found = candidates.find(({ maps }) => maps.some(({ file }) => file === basename(picture)));
    const missing = beside.filter((path) => !found?.maps.some(({ file }) => file === basename(path)));
    sets++;
    if (missing.length === 0) whole++;
    else console.log(`${picture}: without ${missing.map((path) => basename(path)).join(" ")}`);
  }
}
console.log(`${whole} of ${sets} sets whole (${((100 * whole) / sets).toFixed(1)} %)`);

async function imageOf(folder: string, file: string): Promise<IntakeImage> {
  const { width, height, format, channels } = await sharp(join(folder, file)).metadata();
  return {
    file,
    scope: "",
    sha256: file.slice(-64).padEnd(64, "0"),
    format: format === "png" ? "png" : "jpeg",
    width,
    height,
    bitDepth: 8,
    channels: channels as IntakeImage["channels"],
    alpha: "none",
    colorSpace: "rgb",
  };
}
