import { useId } from "react";
import { Form as Fields } from "react-bootstrap";
import { useHandIn } from "../view/useHandIn";

/** Takes in a file with paths by the call that scripts use, and goes to what is found for it. */
export function HandInList() {
  const id = useId();
  const { sending, trouble, handIn } = useHandIn((list) => `/links/${list}`);
  return (
    <>
      <Fields.Group controlId={id} className="mt-3 mb-2">
        <Fields.Label>
          or hand in a file: a list, a table, or a scene (.txt, .csv, .mtl, .mtlx, .usda, .gltf)
        </Fields.Label>
        <Fields.Control
          size="sm"
          type="file"
          disabled={sending !== ""}
          onChange={(event) => {
            const input = event.target as HTMLInputElement;
            const [list] = input.files ?? [];
            if (list)
              void handIn(list.name, `/api/v1/links/lists?name=${encodeURIComponent(list.name)}`, {
                headers: { "Content-Type": "application/octet-stream" },
                body: list,
              });
            input.value = "";
          }}
        />
      </Fields.Group>
      {sending && <p role="status">Sending {sending} …</p>}
      {trouble && (
        <p className="mark wrong" role="alert">
          {trouble}
        </p>
      )}
    </>
  );
}
