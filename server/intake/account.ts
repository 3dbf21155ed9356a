import { csvRow } from "#core/text/csvRow";
import { say } from "#core/findings/say";
import { fileOf } from "#core/roles/channel";
import { ROLE_NAMES } from "#core/roles/roles";
import type { IgnoredFile } from "#core/candidates/candidate";
import type { CandidateRow } from "#server/intake/queries";

/** What became of one file of an intake. */
export interface AccountLine {
  became: "accepted" | "waiting" | IgnoredFile["kind"];
  file: string;
  /** Name of the material or candidate; "" where there is none. */
  set: string;
  role: string;
  why: string;
}

/** One line for each file: accepted, waiting, passed over or set aside, and why. */
export function accountOf(
  candidates: CandidateRow[],
  ignored: { file: string; reason: string; kind: IgnoredFile["kind"] }[],
): AccountLine[] {
  const taken = candidates.flatMap(({ name, state, maps, findings, scope }) =>
    maps.map((map): AccountLine => {
      const left = state === "accepted" && map.role === "unknown";
      const about = findings.filter(({ file, level }) => file === map.file && level !== "note");
      return {
        became: left ? "left-aside" : state,
        file: [scope, map.channel === "color" ? map.file : `${fileOf(map)} (${map.channel})`]
          .filter(Boolean)
          .join("/"),
        set: name,
        role: map.role === "unknown" ? "" : ROLE_NAMES[map.role],
        why: left
          ? "Left out when it was accepted."
          : say(about)
              .map(({ message }) => message)
              .join(" "),
      };
    }),
  );
  const aside = ignored.map(({ file, reason, kind }): AccountLine => ({
    became: kind,
    file,
    set: "",
    role: "",
    why: reason,
  }));
  return [...taken, ...aside];
}

/** The account as comma-separated values (RFC 4180) with a byte-order mark, so that spreadsheets read the letters right. */
export function accountCsv(lines: AccountLine[]): string {
  const rows = [
    ["became", "file", "set", "role", "why"],
    ...lines.map(({ became, file, set, role, why }) => [became, file, set, role, why]),
  ];
  return `\uFEFF${rows.map(csvRow).join("")}`;
}
