import { createContext, useContext, useMemo, useState, type ReactNode } from "react";

interface Selection {
  ids: ReadonlySet<string>;
  toggle(id: string): void;
  set(ids: Iterable<string>): void;
}

const SelectionContext = createContext<Selection | null>(null);

/** The materials that are selected, kept while a person moves between searches and pages. */
export function SelectionProvider({ children }: { children: ReactNode }) {
  const [ids, setIds] = useState<ReadonlySet<string>>(new Set());
  const selection = useMemo<Selection>(
    () => ({
      ids,
      set: (next) => setIds(new Set(next)),
      toggle: (id) =>
        setIds((before) => {
          const next = new Set(before);
          if (!next.delete(id)) next.add(id);
          return next;
        }),
    }),
    [ids],
  );
  return <SelectionContext.Provider value={selection}>{children}</SelectionContext.Provider>;
}

export function useSelection(): Selection {
  const selection = useContext(SelectionContext);
  if (!selection) throw new Error("useSelection needs a SelectionProvider around it.");
  return selection;
}
