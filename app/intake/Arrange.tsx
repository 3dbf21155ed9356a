import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { createContext, useContext, useMemo, useState, type ReactNode } from "react";
import { useFetcher } from "react-router";
import type { MapChannel } from "#core/roles/channel";
import type { MoveInput } from "#server/intake/arrange/commands";
import type { action } from "../routes/moves";
import { ActLink } from "../components/ActLink";
import { dragAnnouncements, type Named } from "../components/dragAnnouncements";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";

/** A file that may be moved, as it is shown. */
export interface MovableFile extends Named {
  candidate: string;
  file: string;
  sha256: string;
  channel: MapChannel;
}

interface Arranging {
  move(files: MoveInput["files"], to: MoveInput["to"]): void;
  isBusy: boolean;
  /** Those that files can be moved to, by name. */
  targets: { id: string; name: string }[];
}

const ArrangeContext = createContext<Arranging | undefined>(undefined);

/** How files are moved; nothing where nobody may. */
export const useArranging = () => useContext(ArrangeContext);

const OWN = "own";

interface ArrangeProps {
  intake: string;
  targets: Arranging["targets"];
  /** What was moved, the newest first. */
  moves: { id: string; said: string; by: string }[];
  children: ReactNode;
}

/** Candidates whose files can be dragged, or moved by keyboard, to where they belong. */
export function Arrange({ intake, targets, moves, children }: ArrangeProps) {
  const fetcher = useFetcher<typeof action>();
  const [dragged, setDragged] = useState<MovableFile>();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor),
  );
  const { submit, state } = fetcher;
  const arranging = useMemo(
    (): Arranging => ({
      move: (files, to) =>
        void submit(
          { intent: "move", intake, move: JSON.stringify({ files, to }) },
          { method: "post", action: "/moves" },
        ),
      isBusy: state !== "idle",
      targets,
    }),
    [submit, state, intake, targets],
  );
  return (
    <ArrangeContext value={arranging}>
      {moves.length > 0 && (
        <ul className="done-list" aria-label="What was moved">
          {moves.map(({ id, said, by }) => (
            <li key={id}>
              {said}, by {by}{" "}
              <ActLink to="/moves" fields={{ intent: "undo", move: id }}>
                Undo
              </ActLink>
            </li>
          ))}
        </ul>
      )}
      <Refusal result={fetcher.data} />
      <DndContext
        id="arrange"
        accessibility={{ announcements: dragAnnouncements }}
        sensors={sensors}
        onDragStart={({ active }) => setDragged(active.data.current as MovableFile)}
        onDragCancel={() => setDragged(undefined)}
        onDragEnd={({ active, over }) => {
          setDragged(undefined);
          const { candidate, file } = active.data.current as MovableFile;
          if (!over || over.id === candidate) return;
          arranging.move(
            [{ candidate, file }],
            over.id === OWN ? { own: true } : { candidate: String(over.id) },
          );
        }}
      >
        {children}
        {dragged && <OwnPlace />}
        <DragOverlay dropAnimation={null}>
          {dragged && (
            <div className="dragged-file">
              <img className="thumb" src={previewUrl(dragged.sha256, 64, dragged.channel)} alt="" />{" "}
              {dragged.file}
            </div>
          )}
        </DragOverlay>
      </DndContext>
    </ArrangeContext>
  );
}

function OwnPlace() {
  const { setNodeRef, isOver } = useDroppable({
    id: OWN,
    data: { name: "a material of its own" } satisfies Named,
  });
  return (
    <div ref={setNodeRef} className={`own-place${isOver ? " over" : ""}`}>
      Drop it here to make it a material of its own
    </div>
  );
}

/** A candidate that files can be dropped on. */
export function DropTarget({
  candidate,
  name,
  children,
}: {
  candidate: string;
  name: string;
  children(place: { ref(node: HTMLElement | null): void; isOver: boolean }): ReactNode;
}) {
  const { setNodeRef, isOver, active } = useDroppable({ id: candidate, data: { name } satisfies Named });
  const isOther = (active?.data.current as MovableFile | undefined)?.candidate !== candidate;
  return children({ ref: setNodeRef, isOver: isOver && isOther });
}
