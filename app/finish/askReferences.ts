import type { ReferenceChange } from "#server/reference/sql";

/** What the pictures beside a material are asked for: by the calls that scripts use. @throws with the sentence of what was refused */
export const askReferences = {
  /** @returns its id */
  async handIn(material: string, picture: File): Promise<string> {
    const name = encodeURIComponent(picture.name.slice(0, 200));
    const { id } = (await ask(`${material}/references?name=${name}`, {
      method: "POST",
      body: picture,
    })) as { id: string };
    return id;
  },
  change: (material: string, id: string, change: ReferenceChange) =>
    ask(`${material}/references/${id}`, {
      method: "PATCH",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(change),
    }),
  remove: (material: string, id: string) => ask(`${material}/references/${id}`, { method: "DELETE" }),
};

async function ask(path: string, request: RequestInit): Promise<unknown> {
  const response = await fetch(`/api/v1/materials/${path}`, request);
  const answer = (await response.json().catch(() => ({}))) as { detail?: string };
  if (!response.ok) throw new Error(answer.detail ?? "The server did not take it. Try again.");
  return answer;
}
