import type { ReactNode } from "react";
import type { FinishField } from "#core/finish/finish";
import type { Grade } from "#core/finish/grades";
import type { MaterialState } from "#core/finish/material";
import {
  FINISH_FIELDS,
  FINISH_VALUES,
  VALUE_GROUPS,
  valueWords,
  type ValueGroup,
} from "#core/finish/valueFacts";
import { wearWords } from "#core/finish/wear";
import type { Role } from "#core/roles/roles";
import { Clause } from "./Clause";
import { typedValue, typedWear, type FinishTexts } from "./typedFinish";

/** Values that have nothing to act on without one of these maps. */
const NEEDS_MAP: Partial<Record<FinishField, Role[]>> = {
  normalStrength: ["geometry_normal"],
  lostRelief: ["geometry_normal"],
  heightAmplitudeMm: ["height", "bump"],
  heightMiddle: ["height", "bump"],
  heightRange: ["height", "bump"],
  occlusionStrength: ["ambient_occlusion"],
  occlusionGamma: ["ambient_occlusion"],
  opacityMode: ["geometry_opacity"],
  opacityThreshold: ["geometry_opacity"],
};

/** Values that stand in for one of these maps. */
const STANDS_FOR: Partial<Record<FinishField, Role[]>> = {
  roughness: ["specular_roughness", "gloss"],
  metalness: ["base_metalness"],
  color: ["base_color"],
};

/** Groups that most materials leave alone begin folded. */
const OPEN: readonly ValueGroup[] = ["colour", "surface", "relief"];

const fieldsOf = (group: ValueGroup, { maps, layout }: Pick<MaterialState, "maps" | "layout">) =>
  FINISH_FIELDS.filter((field) => {
    if (FINISH_VALUES[field].group !== group) return false;
    const has = (roles: Role[]) => maps.some(({ role }) => roles.includes(role));
    if (NEEDS_MAP[field]) return has(NEEDS_MAP[field]);
    if (field === "color") return layout === "plain";
    return !STANDS_FOR[field] || !has(STANDS_FOR[field]);
  });

interface SpecificationProps {
  material: Pick<MaterialState, "maps" | "layout">;
  texts: FinishTexts;
  received: FinishTexts;
  /** What that is called: "As received". */
  receivedWords: string;
  onType(field: FinishField, text: string, touched?: string): void;
  /** Of the studio's own. */
  grades: readonly Grade[];
  /** How the roughness map spreads, where there is one. */
  roughness: ReactNode;
  /** What is to be said of the relief. */
  warning?: string;
  /** The wear: it has a group of its own. */
  children: ReactNode;
}

/** The finish as architects write one: clauses by what they are about, whose words are the controls. */
export function Specification({
  material,
  texts,
  received,
  receivedWords,
  onType,
  grades,
  roughness,
  warning,
  children,
}: SpecificationProps) {
  const layers = typedWear(texts.wear).filter(({ on }) => on);
  return VALUE_GROUPS.map((group) => {
    if (group === "wear")
      return (
        <details key={group} className="clauses" open={texts.wear !== "" || undefined}>
          <summary>
            <h3>{group}</h3>
            <span className="dim">{layers.length === 0 ? "none" : layers.map(wearWords).join(", ")}</span>
          </summary>
          {children}
        </details>
      );
    const fields = fieldsOf(group, material);
    if (fields.length === 0) return null;
    const changed = fields.filter((field) => texts[field].trim() !== received[field]);
    return (
      <details key={group} className="clauses" open={OPEN.includes(group) || changed.length > 0 || undefined}>
        <summary>
          <h3>{group}</h3>
          <span className="dim">
            {changed.length === 0 ? receivedWords.toLowerCase() : sentence(changed, texts)}
          </span>
        </summary>
        {group === "surface" && roughness}
        {group === "relief" && warning && <p className="mark look">{warning}</p>}
        {fields.map((field) => (
          <Clause
            key={field}
            field={field}
            typed={texts[field]}
            received={received[field]}
            receivedWords={receivedWords}
            grades={grades}
            onType={(text, touched) => onType(field, text, touched)}
          />
        ))}
      </details>
    );
  });
}

/** What differs, in one line. */
function sentence(changed: FinishField[], texts: FinishTexts): string {
  return changed
    .map((field) => {
      const text = texts[field].trim();
      const value = typedValue(field, text) as Parameters<typeof valueWords>[1];
      return text === ""
        ? `no ${FINISH_VALUES[field].name}`
        : `${FINISH_VALUES[field].name} ${valueWords(field, value)}`;
    })
    .join(", ");
}
