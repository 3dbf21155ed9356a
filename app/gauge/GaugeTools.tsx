import type { ComponentProps, ReactNode } from "react";
import { UndoRedo } from "../components/UndoRedo";

/** What the pointer does: moves the image, lays the measuring rod, or draws a mark. */
export type Tool = "move" | "rod" | "mark";

interface GaugeToolsProps {
  tool: Tool;
  onTool(tool: Tool): void;
  /** Whether the way to the size has marks to be drawn. */
  marks: boolean;
  /** What was counted in the picture, where something was. */
  counted?: {
    seen: boolean;
    onSeen(seen: boolean): void;
    snapping: boolean;
    onSnapping(snapping: boolean): void;
  };
  history: ComponentProps<typeof UndoRedo>;
}

export function GaugeTools({ tool, onTool, marks, counted, history }: GaugeToolsProps) {
  return (
    <>
      <div className="tool-row" role="group" aria-label="Pointer">
        <ToolButton tool="move" current={tool} onChoose={onTool}>
          Move it
        </ToolButton>
        {marks && (
          <ToolButton tool="mark" current={tool} onChoose={onTool}>
            Draw it
          </ToolButton>
        )}
        <ToolButton tool="rod" current={tool} onChoose={onTool}>
          Measuring rod
        </ToolButton>
      </div>
      {counted && (
        <div className="tool-row" role="group" aria-label="Counted modules">
          <button type="button" aria-pressed={counted.seen} onClick={() => counted.onSeen(!counted.seen)}>
            Counted modules
          </button>
          <button
            type="button"
            aria-pressed={counted.snapping}
            onClick={() => counted.onSnapping(!counted.snapping)}
          >
            Pull to joints
          </button>
        </div>
      )}
      <UndoRedo
        back={history.back}
        again={history.again}
        canGoBack={history.canGoBack}
        canGoAgain={history.canGoAgain}
      />
    </>
  );
}

function ToolButton({
  tool,
  current,
  onChoose,
  children,
}: {
  tool: Tool;
  current: Tool;
  onChoose(tool: Tool): void;
  children: ReactNode;
}) {
  return (
    <button type="button" aria-pressed={tool === current} onClick={() => onChoose(tool)}>
      {children}
    </button>
  );
}
