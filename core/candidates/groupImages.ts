import { GREY, looksLikeNormal } from "#core/judge/imageReading";
import type { IntakeImage } from "#core/candidates/candidate";
import { gathered } from "#core/candidates/gathered";
import { readRole, type NameReading } from "#core/maps/readRole";
import type { Named } from "#core/candidates/named";
import { settleNames } from "#core/candidates/settleNames";

const keyOf = (image: IntakeImage, reading: NameReading, stem: string) =>
  [image.scope, reading.folder, stem].join("\u0000");

/**
 * Joins images by scope, folder and stem; a weak role word yields where the whole name is what others are called. Images without
 * any role word that lie alone in one place are one set where their pixels say so.
 * @param known words that somebody has answered to be marks of maps, in lower case
 */
export function groupImages(images: IntakeImage[], known: ReadonlySet<string> = new Set()): Named[][] {
  const given = images.flatMap((image): Named[] => {
    if (!image.given) return [];
    const stem = image.given.name;
    return [{ image, reading: { stem, wholeStem: stem, confidence: 0, folder: "", wear: false } }];
  });
  const bySet = gathered(given, ({ image }) => `${image.scope}\u0000${image.given!.set}`);
  return [
    ...bySet.values(),
    ...groupByName(
      images.filter((image) => !image.given),
      known,
    ),
  ];
}

function groupByName(images: IntakeImage[], known: ReadonlySet<string>): Named[][] {
  const read = images.map((image) => ({ image, reading: readRole(image.file) }));
  const folders = gathered(read, ({ image, reading }) => `${image.scope}\u0000${reading.folder}`);
  const settled = [...folders.values()].flatMap((folder) => settleNames(folder, known));
  const groups = gathered(settled, ({ image, reading }) => keyOf(image, reading, reading.stem));
  return joinSilent([...groups.values()]);
}

/** Most images that a set of silent names may have: more are a folder of single pictures. */
const LARGEST_SET = 9;

function joinSilent(groups: Named[][]): Named[][] {
  const places = gathered(groups, ([{ image, reading }]) => `${image.scope}\u0000${reading.folder}`);
  return [...places.values()].flatMap((there) => {
    const silent = there.every(
      (group) => group.length === 1 && !group[0].reading.role && !group[0].reading.packed,
    );
    const members = there.flat();
    return silent &&
      members.length > 1 &&
      members.length <= LARGEST_SET &&
      areNamedAlike(members) &&
      isOneSet(members)
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

/** Whether all begin with the same word, or have no words at all: strangers are not joined. */
const areNamedAlike = (members: Named[]) =>
  commonStem(members) !== "" || members.every(({ reading }) => !/\p{L}/u.test(reading.wholeStem));

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
