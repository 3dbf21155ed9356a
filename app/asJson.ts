/** What a hidden field holds as JSON; undefined for anything else. */
export function asJson(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
