import type { Corrections, Finish, FinishField } from "#core/finish/finish";
import type { MaterialMap, SizeState } from "#core/finish/material";
import { FINISH_FIELDS, FINISH_VALUES, valueWords } from "#core/finish/valueFacts";
import { wearWords } from "#core/finish/wear";
import { formatSize } from "#core/length/formatLength";
import type { Repeat } from "#core/length/repeat";
import type { Role } from "#core/roles/roles";

/** What of a revision is compared. */
export interface RevisionState {
  finish: Finish;
  corrections: Corrections;
  repeat: Repeat | null;
  sizeState: SizeState;
  maps: readonly Pick<
    MaterialMap,
    "role" | "sha256" | "channel" | "width" | "height" | "normalDirection" | "fileName"
  >[];
}

/** A value that differs, in words; null where one of them has none. */
export interface ValueChange {
  name: string;
  before: string | null;
  after: string | null;
}

/** A map that differs; null where one of them has none of its role. */
export interface MapChange {
  role: Role;
  before: RevisionState["maps"][number] | null;
  after: RevisionState["maps"][number] | null;
}

/** What differs between two revisions: sizes and values in words, and maps by their files. */
export function revisionChanges(
  before: RevisionState,
  after: RevisionState,
): { values: ValueChange[]; maps: MapChange[] } {
  const changed = ({ before: one, after: other }: ValueChange) => one !== other;
  const values: ValueChange[] = [
    { name: "size", before: sizeWords(before), after: sizeWords(after) },
    ...FINISH_FIELDS.map((field) => ({
      name: FINISH_VALUES[field].name,
      before: finishWords(before.finish, field),
      after: finishWords(after.finish, field),
    })),
    { name: "wear", before: layersWords(before.finish), after: layersWords(after.finish) },
    ...[...new Set([...Object.keys(before.corrections), ...Object.keys(after.corrections)])]
      .sort()
      .map((profile) => ({
        name: `corrected for ${profile}`,
        before: correctionWords(before.corrections[profile]),
        after: correctionWords(after.corrections[profile]),
      })),
  ];
  const roles = [...new Set([...before.maps, ...after.maps].map(({ role }) => role))];
  const maps = roles.map((role): MapChange => {
    const of = ({ maps: all }: RevisionState) => all.find((map) => map.role === role) ?? null;
    return { role, before: of(before), after: of(after) };
  });
  return { values: values.filter(changed), maps: maps.filter((map) => !isSame(map)) };
}

const isSame = ({ before, after }: MapChange): boolean =>
  before?.sha256 === after?.sha256 &&
  before?.channel === after?.channel &&
  before?.normalDirection === after?.normalDirection;

const sizeWords = ({ repeat, sizeState }: RevisionState): string | null =>
  repeat ? `${formatSize(repeat, "mm")}, ${sizeState}` : null;

function finishWords(finish: Finish, field: FinishField): string | null {
  const value = finish[field];
  return value === undefined ? null : valueWords(field, value);
}

const layersWords = ({ wear = [] }: Finish): string | null =>
  wear.length === 0
    ? null
    : wear
        .map((layer) => `${wearWords(layer)}${layer.on ? "" : ", off"}, revision ${layer.revision}`)
        .join("; ");

function correctionWords(correction: Corrections[string] | undefined): string | null {
  const set = Object.entries(correction ?? {}) as [FinishField, Finish[FinishField] | null][];
  if (set.length === 0) return null;
  return set
    .map(
      ([field, value]) =>
        `${FINISH_VALUES[field].name} ${value === null ? "none" : valueWords(field, value)}`,
    )
    .join(", ");
}
