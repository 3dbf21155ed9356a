import { containerKind } from "#core/formats/containers";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import type { FinishField } from "#core/finish/finish";
import type { Profile } from "#core/convert/profile";
import { ROLE_NAMES } from "#core/roles/roles";

/** What a profile says otherwise than it did, in words; nothing where both deliver the same. */
export function profileChanges(before: Profile, now: Profile): string[] {
  const words: string[] = [];
  const turned = (what: string, from: string, to: string) => {
    if (from !== to) words.push(`${what}: ${to} in place of ${from}.`);
  };
  turned("Name", before.name, now.name);
  turned("In a sentence", `“${before.description}”`, `“${now.description}”`);
  turned("Delivers", deliversOf(before), deliversOf(now));
  turned("Sizes", before.unit, now.unit);
  turned("Green", greenOf(before), greenOf(now));
  turned("Largest image", largestOf(before), largestOf(now));
  turned("Colour files", before.colorTag, now.colorTag);
  turned("Quality of JPEG files", `${before.jpegQuality}`, `${now.jpegQuality}`);
  turned("Finish", finishOf(before), finishOf(now));
  turned("Folders", before.names.folder || "none", now.names.folder || "none");
  turned("Files", before.names.file, now.names.file);
  turned("Proof", before.isProved ? "made" : "not made", now.isProved ? "made" : "not made");
  turned("Wear", wearOf(before), wearOf(now));
  const inputs = new Map(before.outputs.map((output) => [keyOf(output), output]));
  for (const output of now.outputs) {
    const was = inputs.get(keyOf(output));
    inputs.delete(keyOf(output));
    if (!was) words.push(`New input: ${keyOf(output)}, ${outputWords(output)}.`);
    else turned(`Input for ${keyOf(output)}`, outputWords(was), outputWords(output));
  }
  for (const key of inputs.keys()) words.push(`No input any more for ${key}.`);
  const fields = new Set([...Object.keys(before.values), ...Object.keys(now.values)]) as Set<FinishField>;
  for (const field of fields) {
    const { name } = FINISH_VALUES[field];
    const [was, is] = [before.values[field], now.values[field]];
    if (was === undefined) words.push(`New input for the value ${name}: “${is}”.`);
    else if (is === undefined) words.push(`No input any more for the value ${name}.`);
    else turned(`Input for the value ${name}`, `“${was}”`, `“${is}”`);
  }
  const steps = (profile: Profile) => JSON.stringify(profile.steps);
  if (steps(before) !== steps(now))
    words.push("What is left to do at the receiving end is worded otherwise.");
  return words;
}

const deliversOf = ({ delivers }: Profile) =>
  delivers === "images" ? "images" : `one ${containerKind(delivers).name} a material`;
const greenOf = ({ normalDirection }: Profile) => (normalDirection === "+Y" ? "up" : "down");
const largestOf = ({ maxPixels }: Profile) => (maxPixels === null ? "as large as it is" : `${maxPixels} px`);
const finishOf = ({ finishIn }: Profile) =>
  finishIn === "nodes" ? "left to nodes of the material file" : "worked into the images";
const wearOf = ({ layers }: Profile) =>
  layers ? `laid on by itself: ${layers.effects.join(", ")}` : "worked into the images";

type Output = Profile["outputs"][number];

const keyOf = (output: Output): string =>
  output.kind === "map"
    ? ROLE_NAMES[output.role]
    : output.channels.map((role) => ROLE_NAMES[role]).join(" + ");

function outputWords(output: Output): string {
  const bits = output.kind === "map" ? output.bitDepth : 8;
  const more =
    output.kind === "packed"
      ? []
      : [
          output.multiplyOcclusion && "occlusion multiplied in",
          output.opacityInAlpha && "opacity in its fourth channel",
          output.inverted && "inverted",
        ].filter((word) => word !== false);
  return [
    `“${output.slot}”`,
    `_${output.suffix}`,
    `${bits}-bit ${output.format.toUpperCase()}`,
    ...more,
  ].join(", ");
}
