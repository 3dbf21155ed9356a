import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync } from "fflate";
import type { Profile } from "#core/convert/profile";
import { heightAmplitude } from "#core/finish/finish";
import type { Repeat } from "#core/length/repeat";
import { detailLevel } from "#core/picture/detail";
import { roleTexture } from "#core/picture/roleTexture";
import type { DrawnMaterial, Textures } from "#core/picture/surfaceReader";
import { imageCause, reductionCause, type ExpectedImage } from "#core/proof/imageCause";
import { prove, PROOF_LIMIT, type Proof } from "#core/proof/prove";
import { readGlbPackage } from "#core/proof/readGlbPackage";
import { isColorInput, readPackage, UNKNOWN_SIZE } from "#core/proof/readPackage";
import { SCENES, sceneView } from "#core/proof/scenes";
import type { Raster } from "#core/raster/raster";
import type { Role } from "#core/roles/roles";
import { extractChannel } from "#core/convert/kernels/channels";
import { decode } from "#server/pixels/decode";
import { drawnMaterial, type MaterialTask } from "#server/pixels/drawPicture";
import { encode } from "#server/pixels/encode";

export interface ProveTask {
  material: MaterialTask;
  profile: Profile;
  delivered:
    | {
        kind: "images";
        files: { slot: string; path: string; format: string }[];
        settings: Record<string, string | number | boolean>;
      }
    | {
        kind: "package";
        path: string;
        files: { slot: string; name: string; format: string }[];
        settings: Record<string, string | number | boolean>;
      }
    | { kind: "glb"; path: string };
  expected: ExpectedImage[];
  /** What the plan said that the renderer cannot take, in words. */
  notCarried: string[];
  /** And of which maps it said that there is no place for them. */
  withoutPlace: string[];
  /** The size that the delivered images are meant to have. */
  intended: Repeat | null;
}

/** Proves a delivery from its files. @returns the figures, and the sheet of pictures as a PNG */
export async function proveDelivery(task: ProveTask): Promise<{ proof: Proof; sheet: Uint8Array }> {
  const { mmPerPx } = sceneView(SCENES[0], task.material.repeat);
  const place = {
    reduce: (raster: Raster, size: { width: number; height: number }) =>
      2 ** detailLevel(raster, size, mmPerPx),
    wraps: task.material.wraps,
  };
  const material = await drawnMaterial(task.material, mmPerPx);
  const { seen, problems } = await seenIn(task, place);
  const { proof, sheet } = prove(material, seen, task.intended ?? UNKNOWN_SIZE);
  const causes = [...problems, ...proof.causes];
  if (causes.length === 0 && proof.scenes[proof.worst].mean > PROOF_LIMIT) causes.push(...otherCauses(task));
  return { proof: { ...proof, causes }, sheet: await encode(sheet, "png") };
}

async function seenIn(
  { delivered, profile, expected }: ProveTask,
  place: Place,
): Promise<{ seen: DrawnMaterial; problems: string[] }> {
  if (delivered.kind === "images") return seenInImages(profile, delivered, expected, place);
  if (delivered.kind === "glb") return { seen: await seenInGlb(delivered.path, place), problems: [] };
  const inside = unzipSync(new Uint8Array(await readFile(delivered.path)));
  return inFolder(async (folder) => {
    const files: { slot: string; path: string; format: string }[] = [];
    for (const { slot, name, format } of delivered.files) {
      // One that the package has no place for was left out, which the plan said.
      if (!inside[name]) continue;
      const path = join(folder, `${files.length}`);
      await writeFile(path, inside[name]);
      files.push({ slot, path, format });
    }
    const there = expected.filter(({ slot }) => files.some((file) => file.slot === slot));
    return seenInImages(profile, { kind: "images", files, settings: delivered.settings }, there, place);
  });
}

/** Work with a folder that is there for as long. */
async function inFolder<T>(work: (folder: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(join(tmpdir(), "kalonomy-proof-"));
  try {
    return await work(folder);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** What is no mistake: what the renderer has no input for, and images that are smaller. */
function otherCauses({ notCarried, withoutPlace, expected }: ProveTask): string[] {
  const reduced = reductionCause(expected);
  const found = [
    ...withoutPlace,
    ...notCarried.map((words) => `The renderer does not get ${words}`),
    ...(reduced === undefined ? [] : [reduced]),
  ];
  return found.length > 0 ? found : ["No single mistake explains it."];
}

interface Place {
  reduce(raster: Raster, size: { width: number; height: number }): number;
  wraps: boolean;
}

async function seenInImages(
  profile: Profile,
  { files, settings }: Extract<ProveTask["delivered"], { kind: "images" }>,
  expected: ExpectedImage[],
  place: Place,
) {
  const problems: string[] = expected
    .filter(({ slot }) => !files.some((file) => file.slot === slot))
    .map((one) => imageCause(one, undefined)!);
  const images = new Map(
    files.map(({ slot, path, format }) => [
      slot,
      async () => {
        const raster = await decode(path, format, isColorInput(profile, slot) ? "color" : "data");
        const wanted = expected.find((one) => one.slot === slot);
        const problem = wanted && imageCause(wanted, raster);
        if (problem) problems.push(problem);
        return raster;
      },
    ]),
  );
  return { seen: await readPackage(profile, { images, settings }, place), problems };
}

/** What glTF's images hold, by place. */
const ROLES_OF: Record<string, Role[]> = {
  packed: ["ambient_occlusion", "specular_roughness", "base_metalness"],
  baseColor: ["base_color"],
  normal: ["geometry_normal"],
  emission: ["emission_color"],
};

async function seenInGlb(path: string, place: Place): Promise<DrawnMaterial> {
  const found = await readGlbPackage(new Uint8Array(await readFile(path)));
  const repeat = found.repeat ?? UNKNOWN_SIZE;
  const textures: Textures = {};
  const lay = (role: Role, raster: Raster) => {
    const [as, texture] = roleTexture(
      { role, channel: "color", normalDirection: "+Y", raster },
      { reduce: place.reduce(raster, repeat), wraps: place.wraps },
    );
    textures[as] = texture;
  };
  await inFolder(async (folder) => {
    for (const [name, { bytes, format }] of Object.entries(found.images)) {
      const file = join(folder, name);
      await writeFile(file, bytes);
      const isColor = name === "baseColor" || name === "emission";
      const raster = await decode(file, format, isColor ? "color" : "data");
      const roles = ROLES_OF[name];
      if (name === "packed")
        for (const [at, role] of roles.entries()) {
          if (role !== "ambient_occlusion" || found.hasOcclusion)
            lay(role, raster.channels < 3 ? raster : extractChannel(raster, at));
        }
      else lay(roles[0], raster);
      if (name === "baseColor" && found.hasOpacity && raster.channels === 4)
        lay("geometry_opacity", extractChannel(raster, 3));
    }
  });
  const { finish } = found;
  return { textures, finish, repeat, heightMm: heightAmplitude(finish, null).mm };
}
