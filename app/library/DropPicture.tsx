import { useRef, useState, type DragEvent, type ReactNode } from "react";
import type { LibrarySearch } from "#core/library/librarySearch";
import { usePictureSearch } from "./usePictureSearch";

const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes("Files");

/** A picture that is dropped here is looked for the like of; by keys it is chosen in the sentence. */
export function DropPicture({ search, children }: { search: LibrarySearch; children: ReactNode }) {
  const { sending, trouble, find } = usePictureSearch(search, "/library");
  const [isOver, setIsOver] = useState(false);
  // What lies inside is entered before what lies around it is left.
  const depth = useRef(0);
  const enter = (event: DragEvent, by: number) => {
    if (!hasFiles(event)) return;
    event.preventDefault();
    depth.current += by;
    setIsOver(depth.current > 0);
  };
  return (
    <div
      className={`picture-drop${isOver ? " over" : ""}`}
      onDragEnter={(event) => enter(event, 1)}
      onDragLeave={(event) => enter(event, -1)}
      onDragOver={(event) => hasFiles(event) && event.preventDefault()}
      onDrop={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        depth.current = 0;
        setIsOver(false);
        const [picture] = event.dataTransfer.files;
        if (picture) find(picture);
      }}
    >
      {isOver && <p className="drop-hint">Drop a picture to find what looks like it</p>}
      {sending && <p role="status">Sending {sending} …</p>}
      {trouble && (
        <p className="mark wrong" role="alert">
          {trouble}
        </p>
      )}
      {children}
    </div>
  );
}
