import { useState } from "react";
import { collectionsOf, planCollections } from "#core/library/folderCollections";
import { DEFAULT_NAME_RULE, nameByRule, ruleProblem } from "#core/library/nameRule";
import type { WaitingFolder } from "#server/intake/review";
import type { VariantSheet } from "#server/supplier/queries";
import { Button } from "../components/Button";
import { InlineNumber } from "../components/InlineNumber";

/** The first level at which the folders differ. */
function tellingLevel(folders: WaitingFolder[]): number {
  for (let level = 1; level < 4; level++)
    if (new Set(folders.map(({ folder }) => folder.split("/").slice(0, level).join("/"))).size > 1)
      return level;
  return 1;
}

/** Accepts many at once: how they are named, and which collections their folders become, said before it is done. */
export function BatchBar({
  folders: from,
  first,
  waiting,
  nameRule,
  shown,
  busy,
}: {
  folders: WaitingFolder[];
  /** The first that waits, to show what a rule makes of it. */
  first: { name: string; folder: string; sheet: VariantSheet | null };
  /** How many wait. */
  waiting: number;
  /** The studio's own rule. */
  nameRule: string | null;
  shown: number;
  busy: boolean;
}) {
  const [rule, setRule] = useState(nameRule ?? DEFAULT_NAME_RULE);
  const [useRule, setUseRule] = useState(nameRule !== null);
  const [useFolders, setUseFolders] = useState(false);
  const [level, setLevel] = useState(() => tellingLevel(from));
  const [thin, setThin] = useState(2);
  const folders = from.flatMap(({ folder, scope, count }) => {
    const place = [scope.includes("/") ? scope.replace(/\/[^/]*$/, "") : "", folder]
      .filter(Boolean)
      .join("/");
    return Array.from({ length: count }, () => place);
  });
  const hasFolders = folders.some(Boolean);
  const planned = collectionsOf(planCollections(folders, { level, thin }));
  const problem = useRule ? ruleProblem(rule) : undefined;
  const example = nameByRule(rule, {
    name: first.name,
    family: first.sheet?.line.family ?? first.folder.split("/")[0],
    supplier: first.sheet?.supplier.name,
    product: first.sheet?.line.name,
    number: 1,
  });
  return (
    <div className="batch-bar">
      <div className="batch-choices">
        <label>
          <input
            type="checkbox"
            name="useRule"
            checked={useRule}
            onChange={(event) => setUseRule(event.target.checked)}
          />{" "}
          Name them by a rule
        </label>
        {useRule && (
          <label className="inline-choice">
            <span className="visually-hidden">Rule, written as one name would look</span>
            <input
              name="nameRule"
              value={rule}
              onChange={(event) => setRule(event.target.value)}
              aria-describedby="rule-says"
              maxLength={120}
            />{" "}
            <span id="rule-says" className={problem ? "mark look" : "aside"}>
              {problem ?? (
                <>
                  gives “{example}”. The words family, supplier, product and name stand for what they say, 001
                  for a number.
                </>
              )}
            </span>
          </label>
        )}
        {useRule && rule !== nameRule && (
          <label>
            <input type="checkbox" name="keepRule" /> Keep it as the studio’s rule
          </label>
        )}
        <label>
          Put all into the collection <input name="into" placeholder="none" maxLength={200} />
        </label>
        {hasFolders && (
          <label>
            <input
              type="checkbox"
              name="useFolders"
              checked={useFolders}
              onChange={(event) => setUseFolders(event.target.checked)}
            />{" "}
            Make collections of their folders
          </label>
        )}
        {useFolders && (
          <div className="inline-choice">
            <InlineNumber
              before="down to level"
              name="level"
              min={1}
              max={8}
              value={level}
              onChange={(event) => setLevel(Number(event.target.value))}
            />{" "}
            <InlineNumber
              before="with at least"
              after="sets; thinner ones go into the one above"
              name="thin"
              min={1}
              max={1000}
              value={thin}
              onChange={(event) => setThin(Number(event.target.value))}
            />
            <p className="aside" aria-live="polite">
              {planned.length === 0
                ? "That makes no collection."
                : `That makes ${planned
                    .slice(0, 8)
                    .map(({ path, sets }) => `${path.join(" / ")} (${sets})`)
                    .join(", ")}${planned.length > 8 ? ` and ${planned.length - 8} more` : ""}.`}
            </p>
          </div>
        )}
      </div>
      <div className="acts end">
        {shown > 1 && shown < waiting && (
          <Button type="submit" variant="outline-secondary" disabled={busy || problem !== undefined}>
            Accept the {shown} shown
          </Button>
        )}
        <Button type="submit" name="what" value="all" disabled={busy || problem !== undefined}>
          {busy ? "Accepting…" : `Accept all ${waiting}`}
        </Button>
      </div>
    </div>
  );
}
