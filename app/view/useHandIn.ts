import { useState } from "react";
import { useNavigate } from "react-router";

/** Hands a file in by the call that scripts use, and goes to the page of what was made of it. */
export function useHandIn(pageOf: (id: string) => string) {
  const [sending, setSending] = useState("");
  const [trouble, setTrouble] = useState("");
  const navigate = useNavigate();
  /** @param name of the file, for as long as it is sent */
  async function handIn(name: string, address: string, request: RequestInit): Promise<void> {
    setTrouble("");
    setSending(name);
    try {
      const response = await fetch(address, { method: "POST", ...request });
      const answer = (await response.json().catch(() => ({}))) as { id?: string; detail?: string };
      if (response.ok && answer.id) await navigate(pageOf(answer.id));
      else setTrouble(answer.detail ?? "The server did not take it. Try again.");
    } catch {
      setTrouble("The line broke off. Hand the file in again.");
    } finally {
      setSending("");
    }
  }
  return { sending, trouble, handIn };
}
