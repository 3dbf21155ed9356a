import { useDraggable } from "@dnd-kit/core";
import { GripVertical } from "react-bootstrap-icons";

interface DragHandleProps {
  id: string;
  name: string;
  /** What is told of it where it is dropped. */
  data: object;
}

/** What something is taken hold of by, with a pointer or with keys. */
export function DragHandle({ id, name, data }: DragHandleProps) {
  const { setNodeRef, listeners, attributes } = useDraggable({ id, data });
  return (
    <button
      type="button"
      ref={setNodeRef}
      className="drag-handle"
      {...listeners}
      {...attributes}
      aria-label={`Drag ${name}`}
    >
      <GripVertical aria-hidden />
    </button>
  );
}
