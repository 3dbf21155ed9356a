import { execFileSync } from "node:child_process";
import { createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { pipeline } from "node:stream/promises";
import yauzl from "yauzl";

/** A real texture with what was seen in it. */
export interface KnownTexture {
  path: string;
  group: string;
  kind: string;
  /** What is right, the plainest first; undefined where nothing repeats. */
  truths: { across?: number; down?: number }[];
}

/** The packages, and the folder of each below which its paths begin. */
const PACKAGES = {
  "openarena-081-textures": "usr/share/games/openarena/baseoa",
  "redeclipse-data": "usr/share/games/redeclipse/data",
  "supertuxkart-data": "usr/share/games/supertuxkart/data",
};

/** Where they are kept between runs; never inside the project. */
const FOLDER = process.env.BENCH_TEXTURES ?? join(tmpdir(), "kalonomy-textures");

/** The textures of the table, downloaded with Debian's packages when they are not there yet. */
export async function fetchTextures(): Promise<KnownTexture[]> {
  for (const name of Object.keys(PACKAGES) as (keyof typeof PACKAGES)[])
    if (!existsSync(join(FOLDER, name, "usr"))) await fetchPackage(name);
  return [
    ...texturesOf("realTruths.tsv", "real textures"),
    ...texturesOf("laterTruths.tsv", "later textures"),
    ...texturesOf("fittedTruths.tsv", "fitted textures"),
  ];
}

function texturesOf(table: string, group: string): KnownTexture[] {
  return readFileSync(new URL(table, import.meta.url), "utf8")
    .split("\n")
    .filter((line) => line && !line.startsWith("#"))
    .map((line) => {
      const [file, across, down, kind, others = ""] = line.split("\t");
      const [name, ...rest] = file.split("/");
      const root = join(FOLDER, name, PACKAGES[name as keyof typeof PACKAGES]);
      const truths = [`${across} ${down}`, ...others.split("|").filter(Boolean)].map(truthOf);
      return { path: join(root, ...rest), group, kind, truths };
    });
}

function truthOf(text: string): { across?: number; down?: number } {
  const [across, down] = text
    .trim()
    .split(" ")
    .map((number) => (number === "-" ? undefined : Number(number)));
  return { across, down };
}

async function fetchPackage(name: keyof typeof PACKAGES): Promise<void> {
  mkdirSync(FOLDER, { recursive: true });
  execFileSync("apt-get", ["download", name], { cwd: FOLDER, stdio: ["ignore", "ignore", "inherit"] });
  const deb = readdirSync(FOLDER).find((file) => file.startsWith(`${name}_`))!;
  execFileSync("dpkg-deb", ["-x", deb, name], { cwd: FOLDER });
  const root = join(FOLDER, name, PACKAGES[name]);
  for (const file of readdirSync(root)) if (file.endsWith(".pk3")) await unpack(join(root, file), root);
}

/** An archive of a known package, below the folder it lies in. */
async function unpack(archive: string, folder: string): Promise<void> {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.open(archive, { lazyEntries: true }, (error, opened) => (error ? reject(error) : resolve(opened))),
  );
  await new Promise<void>((resolve, reject) => {
    zip.on("end", resolve).on("error", reject);
    zip.on("entry", (entry: yauzl.Entry) => {
      if (entry.fileName.endsWith("/")) return zip.readEntry();
      const to = join(folder, entry.fileName);
      mkdirSync(dirname(to), { recursive: true });
      zip.openReadStream(entry, (error, stream) => {
        if (error) reject(error);
        else pipeline(stream, createWriteStream(to)).then(() => zip.readEntry(), reject);
      });
    });
    zip.readEntry();
  });
}
