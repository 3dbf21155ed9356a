/** What an action that could not be done says: to be shown beside the field at fault. */
export interface Refused {
  refused: { status: number; detail: string; field: string | undefined };
}

/** Whether an action was refused, and with what. */
export function refusalOf(result: unknown): Refused["refused"] | undefined {
  return typeof result === "object" && result !== null && "refused" in result
    ? (result as Refused).refused
    : undefined;
}
