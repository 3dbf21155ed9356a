import { useId, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { useRevalidator } from "react-router";
import type { CardRow } from "#server/card/sql";

/** Takes in what a renderer made of a card, by the call that scripts use. */
export function HandInCard({ card }: { card: CardRow }) {
  const id = useId();
  const [sending, setSending] = useState("");
  const [trouble, setTrouble] = useState("");
  const { revalidate } = useRevalidator();
  async function handIn(picture: File) {
    setTrouble("");
    setSending(picture.name);
    try {
      const response = await fetch(`/api/v1/cards/${card.id}/picture`, { method: "POST", body: picture });
      const answer = (await response.json().catch(() => ({}))) as { detail?: string };
      if (!response.ok) setTrouble(answer.detail ?? "The server did not take it. Try again.");
    } catch {
      setTrouble("The line broke off. Hand the picture in again.");
    } finally {
      setSending("");
    }
    await revalidate();
  }
  return (
    <>
      <Fields.Group controlId={id}>
        <Fields.Label>{card.picture ? "Hand in another picture" : "Hand in the picture of it"}</Fields.Label>
        <Fields.Control
          size="sm"
          type="file"
          accept="image/*"
          disabled={sending !== ""}
          onChange={(event) => {
            const input = event.target as HTMLInputElement;
            const [picture] = input.files ?? [];
            if (picture) void handIn(picture);
            input.value = "";
          }}
        />
      </Fields.Group>
      {sending && <p role="status">Sending {sending} …</p>}
      {card.state === "reading" && !sending && <p role="status">The picture is being read …</p>}
      {trouble && (
        <p className="mark wrong" role="alert">
          {trouble}
        </p>
      )}
    </>
  );
}
