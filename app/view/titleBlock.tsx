import { createContext, useContext, useEffect, useMemo, useState, type ReactNode } from "react";

interface Entries {
  selected: string;
  sum: string;
}

const EMPTY: Entries = { selected: "nothing", sum: "" };

const TitleBlockContext = createContext<{ entries: Entries; write(entries: Entries): void }>({
  entries: EMPTY,
  write: () => undefined,
});

/** What the title block says of the view above it. */
export function TitleBlockProvider({ children }: { children: ReactNode }) {
  const [entries, write] = useState(EMPTY);
  const value = useMemo(() => ({ entries, write }), [entries]);
  return <TitleBlockContext.Provider value={value}>{children}</TitleBlockContext.Provider>;
}

export const useTitleEntries = () => useContext(TitleBlockContext).entries;

/** Writes into the title block for as long as the view is there. */
export function useTitleBlock(selected: string, sum: string): void {
  const { write } = useContext(TitleBlockContext);
  useEffect(() => {
    write({ selected, sum });
    return () => write(EMPTY);
  }, [write, selected, sum]);
}
