import type { CandidateMap } from "#core/candidates/candidate";
import { looksPacked, type Channelled } from "#core/candidates/channelsApart";
import { gathered } from "#core/candidates/gathered";
import { markOf } from "#core/candidates/mark";
import type { Finding } from "#core/findings/finding";
import { fileOf, MAP_CHANNELS, type MapChannel } from "#core/roles/channel";
import { type NormalDirection, ROLES, type Role } from "#core/roles/roles";

/** What somebody is asked about a map: what it holds, or which way the green of a normal map points. */
export const ASKS = ["role", "direction"] as const;
export type Ask = (typeof ASKS)[number];

/** "leave-out": it is not taken; "apart": each of its channels is a map of its own, and is asked about. */
export const ANSWERS = [...ROLES, "leave-out", "apart", "+Y", "-Y"] as const;
export type QuestionAnswer = Role | "leave-out" | "apart" | NormalDirection;

/** A candidate as far as questions are about it. */
export interface AskedCandidate {
  id: string;
  name: string;
  maps: (Pick<
    CandidateMap,
    "file" | "sha256" | "channel" | "role" | "normalDirection" | "likely" | "leftOut"
  > &
    Partial<Channelled>)[];
  findings: Pick<Finding, "code" | "file">[];
}

export interface AskedFile {
  candidate: string;
  /** Of the candidate. */
  name: string;
  /** As its map is addressed. */
  file: string;
  sha256: string;
}

/** One question for all files that share it. */
export interface Question {
  key: string;
  asks: Ask;
  channel: MapChannel;
  /** How the files' names end; "" where they end in nothing that they share. */
  mark: string;
  /** How the names of the other files of their sets end. */
  companions: string[];
  /** What it is likely to be, the likeliest first. */
  likely: Role[];
  /** Whether all of its files have channels that can be maps of their own, and whether the pixels of most speak for it. */
  apart: "likely" | "possible" | "no";
  files: AskedFile[];
}

/** What is asked about one map, if anything. */
export function askOf(
  map: AskedCandidate["maps"][number],
  findings: AskedCandidate["findings"],
): Ask | undefined {
  if (map.role === "unknown") return map.leftOut ? undefined : "role";
  const isAssumed = findings.some(
    ({ code, file }) => code === "normal-direction-assumed" && file === map.file,
  );
  return map.role === "geometry_normal" && !map.normalDirection && isAssumed ? "direction" : undefined;
}

/** How the names of the other files of a set end. */
export const companionsOf = (file: string, maps: Pick<CandidateMap, "file" | "channel">[]): string[] => [
  ...new Set(
    maps
      .map((map) => fileOf(map))
      .filter((other) => other !== file)
      .map(markOf)
      .filter((mark) => mark !== "" && mark !== markOf(file)),
  ),
];

/** What is to be asked about candidates, each question once; what most files share comes first. */
export function questionsOf(candidates: AskedCandidate[]): Question[] {
  const asked = candidates.flatMap(({ id, name, maps, findings }) =>
    maps.flatMap((map): Asked[] => {
      const asks = askOf(map, findings);
      if (!asks) return [];
      const file = fileOf(map);
      const mark = markOf(file);
      // What ends in nothing of its own shares its question with nobody.
      const key = `${asks} ${map.channel} ${mark || `${id} ${file}`}`;
      const companions = companionsOf(file, maps);
      return [{ key, asks, mark, companions, map, in: { candidate: id, name } }];
    }),
  );
  return withSingleOnesTogether([...gathered(asked, ({ key }) => key).values()])
    .map((alike): Question => {
      const [{ key, asks, mark, map }] = alike;
      return {
        ...{ key, asks, mark, channel: map.channel },
        companions: [...new Set(alike.flatMap(({ companions }) => companions))].sort(),
        likely: mostOften(alike.map(({ map }) => map.likely)),
        apart: asks === "role" ? apartOf(alike.map(({ map }) => map)) : "no",
        files: alike.map((one) => ({ ...one.in, file: one.map.file, sha256: one.map.sha256 })),
      };
    })
    .sort(
      (a, b) =>
        b.files.length - a.files.length ||
        byMark(a.mark, b.mark) ||
        MAP_CHANNELS.indexOf(a.channel) - MAP_CHANNELS.indexOf(b.channel),
    );
}

interface Asked {
  key: string;
  asks: Ask;
  mark: string;
  companions: string[];
  map: AskedCandidate["maps"][number];
  in: { candidate: string; name: string };
}

/**
 * Names that nobody else's end alike are names of things, as `_oak` and `_fern` are: of their fourth channels, and of the way that their
 * green points, one question is asked. What whole files hold is asked for each.
 */
function withSingleOnesTogether(groups: Asked[][]): Asked[][] {
  const keyOf = ([{ key, asks, map }, ...others]: Asked[]) =>
    others.length === 0 && (asks === "direction" || map.channel === "alpha")
      ? `${asks} ${map.channel} of single files ${[...map.likely].sort().join(" ")}`
      : key;
  return [...gathered(groups, keyOf)].map(([key, alike]) =>
    alike.length === 1 ? alike[0] : alike.flat().map((one) => ({ ...one, key, mark: "", companions: [] })),
  );
}

/** What ends in nothing of its own comes last. */
const byMark = (a: string, b: string) =>
  Number(a === "") - Number(b === "") || (a === b ? 0 : a < b ? -1 : 1);

function apartOf(maps: AskedCandidate["maps"]): Question["apart"] {
  if (maps.some(({ channel, channels = 1 }) => channel !== "color" || channels < 3)) return "no";
  const packed = maps.filter(({ channels = 1, reading }) => looksPacked({ channels, reading }));
  return packed.length > maps.length / 2 ? "likely" : "possible";
}

/** All roles of some lists, those first that come early in many of them. */
function mostOften(lists: Role[][]): Role[] {
  const points = new Map<Role, number>();
  for (const list of lists)
    for (const [place, role] of list.entries()) points.set(role, (points.get(role) ?? 0) + 1 / (place + 1));
  return [...points].sort(([, a], [, b]) => b - a).map(([role]) => role);
}
