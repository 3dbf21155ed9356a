// Takes a folder of textures in, gives what came its real size, and fetches it converted.
//
//   KALONOMY_ADDRESS=http://127.0.0.1:4600 KALONOMY_TOKEN=token_… \
//     node docs/deliver-folder.mjs FOLDER SIZES.json OUT.zip PROFILE…
//
// SIZES.json says a size for each name: {"Quay paver": {"method": "modules", "across": 4, "up": 8,
// "workSize": {"width": 200, "height": 100}, "joint": 3}}. What it does not name stays without a size, and is told.
import { createWriteStream, openAsBlob, readFileSync } from "node:fs";
import { readdir } from "node:fs/promises";
import { join, relative } from "node:path";
import { pipeline } from "node:stream/promises";

const [folder, sizesFile, out, ...profiles] = process.argv.slice(2);
if (profiles.length === 0)
  throw new Error("Say a folder, a file of sizes, where the zip goes, and a profile.");
const base = `${process.env.KALONOMY_ADDRESS ?? "http://127.0.0.1:4600"}/api/v1`;
const headers = { Authorization: `Bearer ${process.env.KALONOMY_TOKEN}` };

/** One call; an error says what the server said. */
async function ask(method, path, body) {
  const isForm = body instanceof FormData;
  const response = await fetch(base + path, {
    method,
    headers: isForm || body === undefined ? headers : { ...headers, "Content-Type": "application/json" },
    body: isForm || body === undefined ? body : JSON.stringify(body),
  });
  if (response.ok) return response;
  const { detail, pointer } = await response.json();
  throw new Error(`${method} ${path}: ${response.status} ${pointer ?? ""} ${detail}`);
}
const json = async (...call) => (await ask(...call)).json();

/** Asks again and again until something has ended. */
async function settled(path, ended) {
  for (;;) {
    const now = await json("GET", path);
    if (ended.includes(now.state)) return now;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

// The files keep their places in the folder: names and licences are read from these too.
const form = new FormData();
for (const file of await readdir(folder, { recursive: true, withFileTypes: true }))
  if (file.isFile()) {
    const path = join(file.parentPath, file.name);
    form.append("files", await openAsBlob(path), relative(folder, path));
  }
const { id } = await json("POST", "/intakes", form);
const intake = await settled(`/intakes/${id}`, ["review", "failed"]);
if (intake.state === "failed") throw new Error(intake.failure);
for (const { file, reason } of intake.ignored) console.log(`left out: ${file}: ${reason}`);
for (const { name, findings } of intake.candidates)
  for (const { level, message } of findings) console.log(`${level}: ${name}: ${message}`);

const { materials, skipped } = await json("POST", `/intakes/${id}/accept`, { all: true });
for (const { candidate, reason } of skipped) console.log(`skipped: ${candidate}: ${reason}`);
if (materials.length === 0) throw new Error("Nothing was accepted, so there is nothing to deliver.");

const sizes = JSON.parse(readFileSync(sizesFile, "utf8"));
for (const { id, name } of materials) {
  if (!sizes[name]) {
    const { count } = await settled(`/materials/${id}/modules`, ["counted", "failed", "none"]);
    const counted =
      count && `: the program counts ${count.across ?? "?"} × ${count.down ?? "?"}, ${count.bond} bond`;
    console.log(`no size: ${name}${counted ? `${counted}, sure ${Math.round(100 * count.sure)} %` : ""}`);
    continue;
  }
  const { repeat, stretchPercent } = await json("PUT", `/materials/${id}/repeat`, sizes[name]);
  console.log(
    `size: ${name}: ${repeat.width} × ${repeat.height} mm, stretched by ${stretchPercent.toFixed(2)} %`,
  );
}

const asked = await json("POST", "/deliveries", { materials: materials.map(({ id }) => id), profiles });
const delivery = await settled(`/deliveries/${asked.id}`, ["done", "failed", "cancelled"]);
if (delivery.state !== "done") throw new Error(delivery.failure ?? "The delivery was cancelled.");
for (const { name, profile, steps, warnings } of delivery.account.materials)
  for (const line of [...steps, ...warnings]) console.log(`${name} for ${profile}: ${line}`);
const archive = await ask("GET", `/deliveries/${asked.id}/archive`);
await pipeline(archive.body, createWriteStream(out));
console.log(`${delivery.account.materials.length} delivered into ${out}`);
