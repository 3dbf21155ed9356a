import {
  closestCenter,
  DndContext,
  DragOverlay,
  KeyboardSensor,
  MeasuringStrategy,
  PointerSensor,
  pointerWithin,
  useDroppable,
  useSensor,
  useSensors,
  type CollisionDetection,
  type KeyboardCoordinateGetter,
} from "@dnd-kit/core";
import { useState, type ReactNode } from "react";
import { Link, useFetcher } from "react-router";
import type { Asked } from "#server/change/asked";
import { ChangeStatus } from "../change/ChangeStatus";
import { Button } from "../components/Button";
import { dragAnnouncements, type Named } from "../components/dragAnnouncements";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { refusalOf, type Refused } from "../refusal";
import type { action as changesAction } from "../routes/changes";
import type { loader as loadChoices } from "../routes/choices";
import { useSelection } from "../view/selection";

interface PlaceByDragProps {
  /** The collection whose wall it is: what is dragged leaves it. */
  from?: string;
  /** Of what is selected, only these go along; all where it is not said. */
  shown?: string[];
  children: ReactNode;
}

/** A material that is taken hold of. */
export interface DraggedSample extends Named {
  id: string;
  /** The hash of its picture. */
  preview: string | null;
}

/** What the library answers where materials were given to a project. */
interface Shared {
  done: string;
  to: string;
}

/** The materials of a wall, to be dragged into a collection or a project: the one that is taken hold of, or all that are selected with it. */
export function PlaceByDrag({ from, shown, children }: PlaceByDragProps) {
  const selection = useSelection();
  const [dragged, setDragged] = useState<DraggedSample>();
  const { data: choices, load } = useFetcher<typeof loadChoices>();
  const changing = useFetcher<typeof changesAction>();
  const sharing = useFetcher<Shared | Refused>();
  const [last, setLast] = useState<"collection" | "project">();
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: toNextPlace }),
  );
  const idsWith = (id: string) =>
    selection.ids.has(id) ? [...selection.ids].filter((one) => shown?.includes(one) ?? true) : [id];
  const give = (id: string, place: string) => {
    const [kind, to] = place.split(" ");
    const ids = idsWith(id);
    setLast(kind as "collection" | "project");
    if (kind === "project") {
      const form = new FormData();
      form.set("intent", "project");
      form.set("project", to);
      for (const one of ids) form.append("material", one);
      return void sharing.submit(form, { method: "post", action: "/library" });
    }
    const asked: Asked = {
      kind: "place",
      materials: ids,
      into: to,
      ...(from !== undefined && { outOf: from }),
    };
    void changing.submit(
      { intent: "start", asked: JSON.stringify(asked) },
      { method: "post", action: "/changes" },
    );
  };
  const started =
    changing.data && !refusalOf(changing.data) && "change" in changing.data
      ? changing.data.change
      : undefined;
  const shared =
    sharing.data && !refusalOf(sharing.data) && "done" in sharing.data ? sharing.data : undefined;
  const places = (kind: "collection" | "project", named: { id: string; name: string }[]) =>
    named
      .filter(({ id }) => id !== from)
      .map(({ id, name }) => <Place key={id} id={`${kind} ${id}`} name={name} />);
  return (
    <>
      {last === "collection" && started && (
        <div className="placed">
          <ChangeStatus id={started} />
          <Button size="sm" variant="link" onClick={() => setLast(undefined)}>
            Close
          </Button>
        </div>
      )}
      {last === "project" && shared && (
        <p role="status">
          {shared.done} <Link to={shared.to}>Look</Link>
        </p>
      )}
      <Refusal result={last === "project" ? sharing.data : changing.data} />
      <DndContext
        id="place"
        accessibility={{ announcements: dragAnnouncements }}
        sensors={sensors}
        collisionDetection={underPointer}
        // The places come once something is taken hold of.
        measuring={{ droppable: { strategy: MeasuringStrategy.Always } }}
        onDragStart={({ active }) => {
          setDragged(active.data.current as DraggedSample);
          void load("/choices");
        }}
        onDragCancel={() => setDragged(undefined)}
        onDragEnd={({ active, over }) => {
          setDragged(undefined);
          if (over) give(String(active.id), String(over.id));
        }}
      >
        {children}
        {dragged && (
          <aside className="places" aria-label="Where to">
            <h2>{from === undefined ? "Into" : "Move into"}</h2>
            {choices ? (
              <>
                <h3>Collections</h3>
                <ul>{places("collection", choices.collections)}</ul>
                <h3>Projects</h3>
                <ul>{places("project", choices.projects)}</ul>
              </>
            ) : (
              <p className="dim">…</p>
            )}
          </aside>
        )}
        <DragOverlay dropAnimation={null}>
          {dragged && (
            <div className="dragged-file">
              {dragged.preview && <img className="thumb" src={previewUrl(dragged.preview, 64)} alt="" />}{" "}
              {idsWith(dragged.id).length === 1 ? dragged.name : `${idsWith(dragged.id).length} materials`}
            </div>
          )}
        </DragOverlay>
      </DndContext>
    </>
  );
}

/** With a pointer what lies under it, by keys the nearest. */
const underPointer: CollisionDetection = (given) =>
  given.pointerCoordinates ? pointerWithin(given) : closestCenter(given);

const STEPS: Record<string, number> = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 };

/** Arrow keys go from place to place, and not pixel by pixel. */
const toNextPlace: KeyboardCoordinateGetter = (event, { context }) => {
  const step = STEPS[event.code];
  if (step === undefined) return undefined;
  event.preventDefault();
  const all = context.droppableContainers.getEnabled();
  const { collisionRect, over } = context;
  if (all.length === 0 || !collisionRect) return undefined;
  const at = all.findIndex(({ id }) => id === over?.id);
  const next = all[at === -1 ? (step > 0 ? 0 : all.length - 1) : (at + step + all.length) % all.length];
  const rect = context.droppableRects.get(next.id);
  return (
    rect && {
      x: rect.left + (rect.width - collisionRect.width) / 2,
      y: rect.top + (rect.height - collisionRect.height) / 2,
    }
  );
};

function Place({ id, name }: { id: string; name: string }) {
  const { setNodeRef, isOver } = useDroppable({ id, data: { name } satisfies Named });
  return (
    <li ref={setNodeRef} className={isOver ? "over" : undefined}>
      {name}
    </li>
  );
}
