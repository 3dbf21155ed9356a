import { judgeFile } from "#core/candidates/judgeFile";
import { judgeSet } from "#core/candidates/judgeSet";
import type { CandidateMap, Member, PlannedCandidate } from "#core/candidates/candidate";
import type { Named } from "#core/candidates/named";
import type { Finding } from "#core/findings/finding";
import type { Purpose } from "#core/judge/holdsUp";
import { readReflectance } from "#core/judge/reflectance";
import type { PixelOpinion } from "#core/maps/rolesFromPixels";
import { lumaOf, type Plane } from "#core/raster/plane";
import { fileOf } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";

interface SetToDescribe {
  group: Named[];
  /** As in `group`. */
  members: Member[];
  /** As in `group`. */
  opinions: (PixelOpinion | undefined)[];
  maps: CandidateMap[];
  kind: PlannedCandidate["kind"];
  /** Where it is settled. */
  layout?: PlannedCandidate["layout"];
  purpose: Purpose;
}

/** The layout of a set whose maps have their roles, the maps in order, and all that is to be said of them. Settles normal directions. */
export function describeSet({
  group,
  members,
  opinions,
  maps,
  kind,
  layout: settled,
  purpose,
}: SetToDescribe): Pick<PlannedCandidate, "layout" | "maps" | "findings"> {
  const layout = settled ?? (isSheet(group, maps, members) ? "cut-outs" : "repeating");
  const findings: Finding[] = [];
  const shown = shownBy(maps, members);
  for (const [i, member] of members.entries())
    for (const map of maps.filter((map) => fileOf(map) === member.image.file)) {
      const reflectance = shown && member.small && readReflectance(member.small, shown);
      findings.push(...judgeFile(member.image, map, opinions[i], reflectance));
    }
  findings.push(...judgeSet({ maps, members, kind, layout, purpose }));
  return { layout, maps: inOrder(maps), findings };
}

/** What a set's opacity map shows, where it is a file of its own. */
function shownBy(kept: CandidateMap[], members: Member[]): Plane | undefined {
  const opacity = kept.find(({ role, channel }) => role === "geometry_opacity" && channel === "color");
  const small = opacity && members.find(({ image }) => image.file === opacity.file)?.small;
  return small && lumaOf(small);
}

/** A set is a material, unless its names say wear and it has no colours, or it is a panorama. */
export function kindOf(group: Named[], kept: CandidateMap[], members: Member[]): PlannedCandidate["kind"] {
  if (kept.some(({ role }) => role === "environment")) return "environment";
  if (!group.some(({ reading }) => reading.wear)) return "material";
  const colored = kept.some(
    ({ role, sha256 }) =>
      role === "base_color" &&
      (members.find(({ image }) => image.sha256 === sha256)?.image.reading?.spread ?? 1) > 0.03,
  );
  return colored ? "material" : "wear";
}

const SHEET_WORDS =
  /\b(atlas|sheet|leaves|leaf|foliage|decals?|cutouts?|blatt|blatter|feuilles?|hojas?|foglie|branches|twigs|trims?)\b/;

/** A sheet of shapes on nothing: an opacity map that is empty along the border, or half empty under a name that says so. */
function isSheet(group: Named[], kept: CandidateMap[], members: Member[]): boolean {
  const opacity = kept.find(({ role }) => role === "geometry_opacity");
  const member = opacity && members.find(({ image }) => image.sha256 === opacity.sha256);
  if (!opacity || !member) return false;
  const says = group.some(({ reading }) => SHEET_WORDS.test(reading.wholeStem));
  const { small } = member;
  if (!small) return says;
  const at = opacity.channel === "alpha" ? small.channels - 1 : 0;
  const full = small.bitDepth === 16 ? 65535 : 255;
  const { width, height, channels, data } = small;
  let [empty, border, emptyBorder] = [0, 0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const clear = data[(y * width + x) * channels + at] < full * 0.1;
      if (clear) empty++;
      if (x === 0 || y === 0 || x === width - 1 || y === height - 1) {
        border++;
        if (clear) emptyBorder++;
      }
    }
  const share = empty / (width * height);
  return share > 0.15 && (emptyBorder / border > 0.85 || (says && emptyBorder / border > 0.5));
}

/** Base color first, what is asked last. */
function inOrder(maps: CandidateMap[]): CandidateMap[] {
  const place = ({ role }: CandidateMap) => (role === "unknown" ? ROLES.length : ROLES.indexOf(role));
  return maps.toSorted((a, b) => place(a) - place(b));
}
