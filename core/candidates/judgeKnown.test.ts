import { expect, test } from "@jest/globals";
import type { CandidateMap, IntakeImage } from "#core/candidates/candidate";
import { groupImages } from "#core/candidates/groupImages";
import { judgeKnown } from "#core/candidates/judgeKnown";
import { planCandidate } from "#core/candidates/planCandidates";
import { image } from "#core/candidates/testing";
import { readImage } from "#core/judge/imageReading";
import { sampleSet } from "#core/judge/testing";
import type { Raster } from "#core/raster/raster";

const set = sampleSet("brick");
const rasters: Record<string, Raster> = {
  "wall_color.png": set.base_color,
  "wall_nrm.png": set.geometry_normal,
  "wall_kx.png": set.specular_roughness,
};
const of = (file: string, more: Partial<IntakeImage> = {}) =>
  image(file, { width: 256, height: 256, reading: readImage(rasters[file]), ...more });
const smallOf = ({ file }: IntakeImage) => rasters[file];
const codes = ({ findings }: { findings: { code: string }[] }) => findings.map(({ code }) => code);

/** What a set is read as, and what it is once somebody has said something of its maps. */
function answered(images: IntakeImage[], say: Record<string, Partial<CandidateMap>>) {
  const [group] = groupImages(images);
  const { candidate: read } = planCandidate(group, smallOf, "near");
  const maps = read.maps.map((map) => ({ ...map, ...say[map.file] }));
  return { read, judged: judgeKnown(group, { maps, findings: read.findings }, smallOf, "near") };
}

test("a role that somebody said stays, and what was missing without it is missing no more", () => {
  const { read, judged } = answered([of("wall_color.png"), of("wall_nrm.png"), of("wall_kx.png")], {
    "wall_kx.png": { role: "specular_roughness", confidence: 0 },
  });
  expect(codes(read)).toEqual(expect.arrayContaining(["role-unknown", "incomplete"]));
  expect(codes(judged)).not.toEqual(expect.arrayContaining(["role-unknown"]));
  expect(codes(judged)).not.toContain("incomplete");
  expect(judged.maps.find(({ file }) => file === "wall_kx.png")).toMatchObject({
    role: "specular_roughness",
    confidence: 0,
  });
});

test("a direction that the pixels told is told by them again, and by nobody's name", () => {
  const { read, judged } = answered([of("wall_color.png"), of("wall_nrm.png")], {});
  expect(read.maps.find(({ role }) => role === "geometry_normal")?.normalDirection).toBe("+Y");
  for (const one of [read, judged]) expect(codes(one)).toContain("direction-from-pixels");
  expect(judged.maps.find(({ role }) => role === "geometry_normal")?.normalDirection).toBe("+Y");
  // What somebody said is held against them.
  const said = answered([of("wall_color.png"), of("wall_nrm.png")], {});
  const maps = said.read.maps.map((map) =>
    map.role === "geometry_normal" ? { ...map, normalDirection: "-Y" as const } : map,
  );
  const [group] = groupImages([of("wall_color.png"), of("wall_nrm.png")]);
  const judgedAgain = judgeKnown(group, { maps, findings: [] }, smallOf, "near");
  expect(codes(judgedAgain)).toContain("direction-disagrees");
});

test("what a fourth channel holds is asked until somebody says it, or leaves it out", () => {
  const images = [of("wall_color.png"), of("wall_nrm.png", { channels: 4, alpha: "varied" })];
  const file = "wall_nrm.png#alpha";
  expect(codes(answered(images, {}).judged)).toContain("alpha-may-be-height");
  expect(codes(answered(images, { [file]: { role: "height" } }).judged)).not.toContain("alpha-may-be-height");
  const { judged } = answered(images, { [file]: { leftOut: true } });
  expect(codes(judged)).not.toContain("alpha-may-be-height");
  expect(judged.maps.find((map) => map.file === file)).toMatchObject({ role: "unknown", leftOut: true });
});

test("a picture that becomes the colours of its set brings the cut-out that it carries", () => {
  const images = [of("wall_kx.png", { channels: 4, alpha: "cut-out" }), of("wall_nrm.png")];
  const { judged } = answered(images, { "wall_kx.png": { role: "base_color", confidence: 0 } });
  expect(judged.maps.map(({ file, role }) => [file, role])).toEqual(
    expect.arrayContaining([["wall_kx.png#alpha", "geometry_opacity"]]),
  );
});

test("what is settled of a set is not told from its pixels: what is placed once has no seams", () => {
  const reading = readImage(set.base_color);
  const broken = { across: { ...reading.seams!.across, broken: 0.98 }, down: reading.seams!.down };
  const images = [of("wall_color.png", { reading: { ...reading, seams: broken } })];
  const [group] = groupImages(images);
  const { maps } = planCandidate(group, smallOf, "near").candidate;
  const judged = (layout?: "placed") =>
    codes(judgeKnown(group, { maps, findings: [], layout }, smallOf, "near"));
  expect(judged()).toContain("seam");
  expect(judged("placed")).not.toContain("seam");
});
