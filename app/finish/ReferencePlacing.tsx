import { useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { useRevalidator } from "react-router";
import type { Neutral, Placing } from "#core/picture/reference";
import type { ReferenceRow } from "#server/reference/sql";
import { parseLength } from "#core/length/parseLength";
import { Button } from "../components/Button";
import { ImageTable } from "../components/ImageTable";
import { useView } from "../view/viewContext";
import { askReferences } from "./askReferences";
import { grabbed, placingOf, startPlacing, type PlacingTexts, type Tool } from "./typedPlacing";

const TOOLS: { tool: Tool; name: string; says: string }[] = [
  {
    tool: "points",
    name: "Two points",
    says: "Drag both ends onto something whose length is known, or move them by the arrow keys: Enter goes to the next.",
  },
  {
    tool: "corners",
    name: "Four corners",
    says: "Drag the corners onto a real rectangle: top left, top right, bottom right, bottom left.",
  },
  { tool: "grey", name: "Grey spot", says: "Click on something that is grey in reality." },
];

interface ReferencePlacingProps {
  /** Id of the material. */
  material: string;
  reference: ReferenceRow;
  profiles: { id: string; name: string }[];
  onDone(): void;
}

/** Says how large a picture is in reality, which spot of it is grey, and whose picture it is. */
export function ReferencePlacing({ material, reference, profiles, onDone }: ReferencePlacingProps) {
  const { unit } = useView();
  const { revalidate } = useRevalidator();
  const [texts, setTexts] = useState<PlacingTexts>(() => startPlacing(reference, unit));
  const [tool, setTool] = useState<Tool>(reference.placing?.by ?? "points");
  /** The point that the arrow keys move, and whether the pointer holds it. */
  const [chosen, setChosen] = useState(0);
  const [isHeld, setHeld] = useState(false);
  const [trouble, setTrouble] = useState("");
  const [isBusy, setBusy] = useState(false);
  const size = { width: reference.width ?? 1, height: reference.height ?? 1 };
  const set = (changed: Partial<PlacingTexts>) => setTexts((before) => ({ ...before, ...changed }));

  async function carryOut(act: () => Promise<unknown>) {
    setBusy(true);
    try {
      await act();
      await revalidate();
      onDone();
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
      setBusy(false);
    }
  }
  function save() {
    let read: { placing: Placing | null; neutral: Neutral | null };
    try {
      read = placingOf(texts, (text) => parseLength(text, { unit }));
    } catch (error) {
      return setTrouble(error instanceof Error ? error.message : String(error));
    }
    const { name, profile } = texts;
    void carryOut(() =>
      askReferences.change(material, reference.id, { ...read, name, profile: profile || null }),
    );
  }
  const points = tool === "points" ? texts.points : tool === "corners" ? texts.corners : [];
  const move = (index: number, at: { x: number; y: number }) => {
    const changed = points.map((point, i) => (i === index ? at : point));
    set(tool === "points" ? { points: changed, by: "points" } : { corners: changed, by: "corners" });
  };
  const inPixels = ({ x, y }: { x: number; y: number }) => ({ x: x * size.width, y: y * size.height });
  const inShares = ({ x, y }: { x: number; y: number }) => ({ x: x / size.width, y: y / size.height });
  const at = Math.min(chosen, Math.max(0, points.length - 1));
  const active = points[at] ?? texts.grey ?? { x: 0.5, y: 0.5 };
  return (
    <form
      className="reference-placing"
      aria-label={`Place ${reference.name}`}
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <div className="reference-fields">
        <div role="group" aria-label="What is placed" className="btn-group btn-group-sm">
          {TOOLS.map(({ tool: one, name }) => (
            <button
              key={one}
              type="button"
              className="btn btn-outline-secondary"
              aria-pressed={tool === one}
              onClick={() => setTool(one)}
            >
              {name}
            </button>
          ))}
        </div>
        {tool === "points" && (
          <Text
            label="Between them"
            value={texts.length}
            onType={(length) => set({ length, by: "points" })}
          />
        )}
        {tool === "corners" && (
          <>
            <Text label="Wide" value={texts.width} onType={(width) => set({ width, by: "corners" })} />
            <Text label="High" value={texts.height} onType={(height) => set({ height, by: "corners" })} />
          </>
        )}
        {tool === "grey" && (
          <>
            <Text
              label="It reflects, %"
              placeholder="not known"
              value={texts.reflects}
              onType={(reflects) => set({ reflects })}
            />
            {texts.grey && (
              <button type="button" className="plain-button" onClick={() => set({ grey: null })}>
                Colours as they are
              </button>
            )}
          </>
        )}
        <Text label="Name" value={texts.name} onType={(name) => set({ name })} />
        <label>
          Made by
          <Fields.Select
            size="sm"
            aria-label="Made by"
            value={texts.profile}
            onChange={(event) => set({ profile: event.target.value })}
          >
            <option value="">no renderer of ours</option>
            {profiles.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Fields.Select>
        </label>
        <span className="spring" />
        <Button type="submit" size="sm" disabled={isBusy}>
          Save
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={onDone}>
          Cancel
        </Button>
        <Button
          size="sm"
          variant="outline-danger"
          disabled={isBusy}
          onClick={() => void carryOut(() => askReferences.remove(material, reference.id))}
        >
          Remove
        </Button>
      </div>
      <p className={trouble ? "mark wrong" : "aside"} role={trouble ? "alert" : undefined}>
        {trouble || TOOLS.find((one) => one.tool === tool)!.says}
      </p>
      <ImageTable
        map={{ sha256: reference.sha256, channel: "color", ...size }}
        alt={reference.name}
        repeat={null}
        unit={unit}
        drawing={{
          onStart(point, reach) {
            if (tool === "grey") return set({ grey: inShares(point) });
            const near = grabbed(points.map(inPixels), point, reach);
            if (near !== undefined) setChosen(near);
            setHeld(near !== undefined);
          },
          onMove(point) {
            if (isHeld) move(at, inShares(point));
          },
          onEnd: () => setHeld(false),
          active: inPixels(active),
          onNudge(dx, dy) {
            const { x, y } = inPixels(active);
            const moved = inShares({ x: x + dx, y: y + dy });
            if (tool === "grey") set({ grey: moved });
            else move(at, moved);
          },
          onNext: () => setChosen((at + 1) % Math.max(1, points.length)),
        }}
        overlay={(toView) => {
          const shown = points.map((point) => toView(inPixels(point)));
          const grey = texts.grey && toView(inPixels(texts.grey));
          return (
            <svg className="reference-points" aria-hidden="true">
              <polygon points={shown.map(({ x, y }) => `${x},${y}`).join(" ")} />
              {shown.map(({ x, y }, i) => (
                <g key={i}>
                  <circle cx={x} cy={y} r={i === at ? 10 : 7} />
                  <text x={x + 10} y={y - 8}>
                    {i + 1}
                  </text>
                </g>
              ))}
              {grey && tool === "grey" && <rect x={grey.x - 7} y={grey.y - 7} width={14} height={14} />}
            </svg>
          );
        }}
      />
    </form>
  );
}

interface TextProps {
  label: string;
  value: string;
  placeholder?: string;
  onType(text: string): void;
}

const Text = ({ label, value, placeholder, onType }: TextProps) => (
  <label>
    {label}
    <input
      className="form-control form-control-sm"
      aria-label={label}
      value={value}
      placeholder={placeholder}
      onChange={(event) => onType(event.target.value)}
    />
  </label>
);
