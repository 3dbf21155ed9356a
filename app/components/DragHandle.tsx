import { useDraggable } from "@dnd-kit/core";
import { GripVertical } from "react-bootstrap-icons";
import type { Named } from "./dragAnnouncements";

interface DragHandleProps<Data extends Named> {
  id: string;
  /** What is told of it where it is dropped. */
  data: Data;
}

/** What something is taken hold of by, with a pointer or with keys. */
export function DragHandle<Data extends Named>({ id, data }: DragHandleProps<Data>) {
  const { setNodeRef, listeners, attributes } = useDraggable({ id, data });
  return (
    <button
      type="button"
      ref={setNodeRef}
      className="drag-handle"
      {...listeners}
      {...attributes}
      aria-label={`Drag ${data.name}`}
    >
      <GripVertical aria-hidden />
    </button>
  );
}
