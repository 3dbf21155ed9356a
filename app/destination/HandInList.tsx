import { useId, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { useNavigate } from "react-router";

/** Takes in a file with paths by the call that scripts use, and goes to what is found for it. */
export function HandInList() {
  const id = useId();
  const [sending, setSending] = useState("");
  const [trouble, setTrouble] = useState("");
  const navigate = useNavigate();
  async function handIn(list: File) {
    setTrouble("");
    setSending(list.name);
    try {
      const response = await fetch(`/api/v1/links/lists?name=${encodeURIComponent(list.name)}`, {
        method: "POST",
        headers: { "Content-Type": "application/octet-stream" },
        body: list,
      });
      const answer = (await response.json().catch(() => ({}))) as { id?: string; detail?: string };
      if (response.ok && answer.id) await navigate(`/links/${answer.id}`);
      else setTrouble(answer.detail ?? "The server did not take it. Try again.");
    } catch {
      setTrouble("The line broke off. Hand the file in again.");
    } finally {
      setSending("");
    }
  }
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
            if (list) void handIn(list);
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
