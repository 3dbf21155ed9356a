import { Form } from "react-router";
import { ROLE_NAMES, type Role } from "#core/roles/roles";
import { MAKINGS, type MakingKind } from "#core/mend/recipe";
import { Button } from "./Button";
import { InlineNumber } from "./InlineNumber";

interface MakeMissingProps {
  possible: { kind: MakingKind; from: Role }[];
  running: boolean;
}

/** Maps that the material lacks and that can be made from others, each with its few settings. */
export function MakeMissing({ possible, running }: MakeMissingProps) {
  if (possible.length === 0) return null;
  return (
    <div className="make-missing">
      {possible.map(({ kind, from }) => {
        const { makes, estimate } = MAKINGS[kind];
        return (
          <Form method="post" key={kind} aria-label={`Create ${ROLE_NAMES[makes]} from ${ROLE_NAMES[from]}`}>
            <p>
              No {ROLE_NAMES[makes]} map. {estimate ? "Guess it from the" : "Create it from the"}{" "}
              {from === "base_color" ? "colours" : `${ROLE_NAMES[from]} map`}:
            </p>
            <Settings kind={kind} />
            <Button
              type="submit"
              name="kind"
              value={kind}
              size="sm"
              variant="outline-secondary"
              disabled={running}
            >
              {running ? "Working…" : estimate ? "Guess" : "Create"}
            </Button>
          </Form>
        );
      })}
    </div>
  );
}

function Settings({ kind }: { kind: MakingKind }) {
  switch (kind) {
    case "occlusion-from-height":
      return (
        <InlineNumber
          before="reach"
          after="mm"
          name="reachMm"
          min={0.1}
          max={2000}
          step="any"
          defaultValue={40}
        />
      );
    case "height-from-color":
      return (
        <>
          <InlineNumber
            before="depth"
            after="mm"
            name="depthMm"
            min={0.01}
            max={500}
            step="any"
            defaultValue={3}
          />
          <label>
            <input name="darkIsDeep" type="checkbox" defaultChecked /> dark is deep
          </label>
          <label>
            grain <input name="fine" type="range" min={0} max={1} step={0.05} defaultValue={0.3} />
          </label>
        </>
      );
    case "roughness-from-color":
      return (
        <>
          <InlineNumber before="level" name="level" min={0} max={1} step={0.01} defaultValue={0.7} />
          <InlineNumber before="variation" name="variation" min={0} max={1} step={0.01} defaultValue={0.15} />
          <label>
            <input name="darkIsRough" type="checkbox" defaultChecked /> dark is rough
          </label>
        </>
      );
    default:
      return null;
  }
}
