/** The part of a browser's event source that is used. */
export interface Source {
  onopen: (() => void) | null;
  onerror: (() => void) | null;
  onmessage: ((message: { data: string }) => void) | null;
  close(): void;
}

interface Options {
  open(): Source;
  heard(data: string): void;
  /** Called when the line is there, and when it is not. */
  told(isLive: boolean): void;
}

const FIRST_PAUSE_MS = 1000;
const LONGEST_PAUSE_MS = 30_000;
/** A short gap is nobody's business. */
const TOLD_AFTER_MS = 3000;

/**
 * A stream of events that comes back, whatever ended it. A browser's own source gives up for good where it is answered with an error,
 * as a gateway does while the studio's server is away: a new one is made then, after pauses that grow and differ.
 * @returns a function that ends it
 */
export function eventLine({ open, heard, told }: Options): () => void {
  let source: Source | undefined;
  let retry: ReturnType<typeof setTimeout> | undefined;
  let late: ReturnType<typeof setTimeout> | undefined;
  let pause = FIRST_PAUSE_MS;
  const begin = () => {
    source = open();
    source.onopen = () => {
      pause = FIRST_PAUSE_MS;
      clearTimeout(late);
      late = undefined;
      told(true);
    };
    source.onmessage = ({ data }) => heard(data);
    source.onerror = () => {
      source?.close();
      late ??= setTimeout(() => told(false), TOLD_AFTER_MS);
      clearTimeout(retry);
      retry = setTimeout(begin, pause * (0.75 + Math.random() / 2));
      pause = Math.min(LONGEST_PAUSE_MS, pause * 2);
    };
  };
  begin();
  return () => {
    clearTimeout(retry);
    clearTimeout(late);
    source?.close();
  };
}
