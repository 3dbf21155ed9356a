import { GREY, looksLikeNormal } from "#core/judge/imageReading";
import type { IntakeImage } from "#core/maps/candidate";
import { readRole, type NameReading } from "#core/maps/readRole";

/** One image with what its name says, in the group that its name puts it in. */
export interface Named {
  image: IntakeImage;
  reading: NameReading;
}

const keyOf = (image: IntakeImage, reading: NameReading, stem: string) =>
  [image.scope, reading.folder, stem].join("\u0000");

/**
 * Joins images by scope, folder and stem; a weak role word yields where the whole name is what others are called. Images without
 * any role word that lie alone in one place are one set where their pixels say so.
 */
export function groupImages(images: IntakeImage[]): Named[][] {
  const given = new Map<string, Named[]>();
  for (const image of images) {
    if (!image.given) continue;
    const key = `${image.scope}\u0000${image.given.set}`;
    const stem = image.given.name;
    const reading = { stem, wholeStem: stem, confidence: 0, folder: "", wear: false };
    given.set(key, [...(given.get(key) ?? []), { image, reading }]);
  }
  return [...given.values(), ...groupByName(images.filter((image) => !image.given))];
}

function groupByName(images: IntakeImage[]): Named[][] {
  const read = images.map((image) => ({ image, reading: readRole(image.file) }));
  const stems = new Map<string, number>();
  for (const { image, reading } of read) {
    const key = keyOf(image, reading, reading.stem);
    stems.set(key, (stems.get(key) ?? 0) + 1);
  }
  const groups = new Map<string, Named[]>();
  for (const member of read) {
    const { image, reading } = member;
    const isName = reading.stem !== reading.wholeStem && stems.has(keyOf(image, reading, reading.wholeStem));
    const lonely = reading.confidence < 0.7 && stems.get(keyOf(image, reading, reading.stem)) === 1;
    const settled: Named =
      reading.role && (isName || lonely)
        ? { image, reading: { ...reading, role: undefined, stem: reading.wholeStem, confidence: 0 } }
        : member;
    const key = keyOf(image, settled.reading, settled.reading.stem);
    groups.set(key, [...(groups.get(key) ?? []), settled]);
  }
  return joinSilent([...groups.values()]);
}

/** Most images that a set of silent names may have: more are a folder of single pictures. */
const LARGEST_SET = 9;

function joinSilent(groups: Named[][]): Named[][] {
  const places = new Map<string, Named[][]>();
  for (const group of groups) {
    const [{ image, reading }] = group;
    const place = `${image.scope}\u0000${reading.folder}`;
    places.set(place, [...(places.get(place) ?? []), group]);
  }
  return [...places.values()].flatMap((there) => {
    const silent = there.every(
      (group) => group.length === 1 && !group[0].reading.role && !group[0].reading.packed,
    );
    const members = there.flat();
    return silent && members.length > 1 && members.length <= LARGEST_SET && isOneSet(members)
      ? [members.map(({ image, reading }) => ({ image, reading: { ...reading, stem: commonStem(members) } }))]
      : there;
  });
}

/** One normal map, at most one coloured picture, and one size: what a set has and a folder of pictures has not. */
function isOneSet(members: Named[]): boolean {
  const sizes = new Set(members.map(({ image }) => `${image.width}×${image.height}`));
  const normals = members.filter(
    ({ image }) => image.reading?.normal && looksLikeNormal(image.reading.normal),
  );
  const colored = members.filter(({ image }) => image.reading && image.reading.spread >= GREY);
  return sizes.size === 1 && normals.length === 1 && colored.length - normals.length <= 1;
}

/** The words that all the names begin with. */
function commonStem(members: Named[]): string {
  const [first, ...rest] = members.map(({ reading }) => reading.wholeStem.split(" "));
  let length = first.length;
  for (const words of rest) {
    let same = 0;
    while (same < length && words[same] === first[same]) same++;
    length = same;
  }
  return first.slice(0, length).join(" ");
}
