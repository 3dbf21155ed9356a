import type { ReactNode } from "react";
import { Form } from "react-router";
import { Button } from "../components/Button";
import type { Arrangement, Mode, Parts } from "./SampleSheet";
import type { useCompared } from "./useCompared";

const MODES: { mode: Mode; word: string; name: string; says: string }[] = [
  { mode: "move", word: "Move", name: "Move", says: "Drag the view, or use the arrow keys" },
  {
    mode: "mark",
    word: "Mark",
    name: "Mark",
    says: "Drag over the part that is compared; a click takes it away",
  },
  { mode: "pick", word: "Pick", name: "Pick a colour", says: "Click on a spot" },
];

interface CompareBarProps {
  /** What is beside it; nothing is, where it is undefined. */
  otherName: string | undefined;
  arrangement: Arrangement;
  onArrangement(arrangement: Arrangement): void;
  mode: Mode;
  onMode(mode: Mode): void;
  isPanel: boolean;
  parts: Parts;
  onParts(parts: Parts): void;
  compare: ReturnType<typeof useCompared>;
  onColor(changed: { tint: string; brightnessStops?: number }): void;
  mayMake: boolean;
  /** Of the material. */
  name: string;
  isMoved: boolean;
  /** Back to where it was. */
  backWords: string;
  onBack(): void;
  /** Where what is beside it is a picture. */
  onPlace?: () => void;
  children: ReactNode;
}

/** What can be done with the pictures: moved, marked, picked from, compared and matched. */
export function CompareBar({
  otherName,
  arrangement,
  onArrangement,
  mode,
  onMode,
  isPanel,
  parts,
  onParts,
  compare,
  onColor,
  mayMake,
  name,
  isMoved,
  backWords,
  onBack,
  onPlace,
  children,
}: CompareBarProps) {
  const { words, match, picked } = compare;
  const hasParts = parts.now !== undefined || parts.other !== undefined;
  return (
    <div className="finish-compare">
      <div className="finish-split">
        <div role="group" aria-label="What the pointer does" className="btn-group btn-group-sm">
          {MODES.map(({ mode: one, word, name: called, says }) => (
            <button
              key={one}
              type="button"
              className="btn btn-outline-secondary"
              aria-pressed={mode === one}
              aria-label={called}
              title={`${called}: ${says}`}
              disabled={!isPanel}
              onClick={() => onMode(one)}
            >
              {word}
            </button>
          ))}
        </div>
        {isMoved && (
          <button type="button" className="plain-button" onClick={onBack}>
            {backWords}
          </button>
        )}
        {hasParts && (
          <button type="button" className="plain-button" onClick={() => onParts({})}>
            Compare all of it
          </button>
        )}
        {otherName !== undefined && (
          <>
            {children}
            <label className="inline">
              <input
                type="checkbox"
                checked={arrangement === "beside"}
                onChange={(event) => onArrangement(event.target.checked ? "beside" : "line")}
              />{" "}
              side by side
            </label>
            {onPlace && (
              <Button size="sm" variant="outline-secondary" onClick={onPlace}>
                Place the picture
              </Button>
            )}
            {mayMake && (
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={!compare.canMatch}
                onClick={() => void compare.findMatch()}
              >
                Match colour
              </Button>
            )}
          </>
        )}
      </div>
      {otherName !== undefined && (
        <p className="finish-words number" aria-live="polite" title={words}>
          {words}
        </p>
      )}
      {match === "busy" && (
        <p className="finish-found" role="status">
          Looking for it …
        </p>
      )}
      {match && match !== "busy" && (
        <div className="finish-found" role="status">
          <span className="color-chip" style={{ background: match.tint }} />
          <span>
            Tint {match.tint}, {match.brightnessStops > 0 ? "+" : ""}
            {match.brightnessStops} stops: the means come from ΔE2000 {match.before.toFixed(1)} to{" "}
            {match.after.toFixed(1)}.
            {match.after > 2 &&
              " Nearer it does not come: a base colour is no lighter than white, and what the surface mirrors is not tinted."}
          </span>
          <Button
            size="sm"
            onClick={() => {
              onColor({ tint: match.tint, brightnessStops: match.brightnessStops });
              compare.leaveMatch();
            }}
          >
            Take it
          </Button>
          <Button size="sm" variant="outline-secondary" onClick={compare.leaveMatch}>
            Leave it
          </Button>
        </div>
      )}
      {picked && (
        <div className="finish-found" role="status">
          <span className="color-chip" style={{ background: picked.hex }} />
          <span>
            {picked.hex}, {picked.of}
          </span>
          {mayMake && (
            <>
              <Button size="sm" variant="outline-secondary" onClick={() => onColor({ tint: picked.hex })}>
                As the tint
              </Button>
              <Form method="post">
                <input type="hidden" name="intent" value="make-plain" />
                <input type="hidden" name="color" value={picked.hex} />
                <input type="hidden" name="name" value={`Colour of ${name}, ${picked.hex}`.slice(0, 200)} />
                <Button type="submit" size="sm" variant="outline-secondary">
                  As a plain material
                </Button>
              </Form>
            </>
          )}
          <Button size="sm" variant="outline-secondary" onClick={compare.leavePicked}>
            Leave it
          </Button>
        </div>
      )}
    </div>
  );
}
