import { useCallback, useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { searchParams, type LibrarySearch } from "#core/library/librarySearch";
import type { Sample } from "#server/material/samples";
import type { clientLoader as loadPart } from "../routes/libraryPart";

interface Loaded {
  search: LibrarySearch;
  /** The rows that the page came with, and which of its pages that is. */
  samples: Sample[];
  page: number;
  total: number;
  pageRows: number;
}

export interface WallPages {
  total: number;
  /** Of the page that was there at once, and of each that comes. */
  pageRows: number;
  /** All that has come, in no order. */
  held: Sample[];
  /** Undefined while it has not come. */
  at(index: number): Sample | undefined;
  /** Whether some that are in view could not be loaded. */
  isFailed: boolean;
  tryAgain(): void;
  /** What is in view now. */
  want(first: number, last: number): void;
}

interface Part {
  samples: Sample[];
  /** What the page had when this came: it is asked for again when that is new. */
  besides: Sample[];
}

/** The samples that a search finds, of which one page is there at once, and the others come as they come into view. */
export function useWallPages({ search, samples, page, total, pageRows }: Loaded): WallPages {
  const key = new URLSearchParams(searchParams(search)).toString();
  const [parts, setParts] = useState<{ key: string; of: ReadonlyMap<number, Part> }>({ key, of: new Map() });
  const [wanted, setWanted] = useState({ first: 0, last: 0 });
  const { load, data, state } = useFetcher<typeof loadPart>();
  const of = parts.key === key ? parts.of : NONE;
  const [repeated, setRepeated] = useState<unknown>();
  const isFailed = data !== undefined && "failed" in data && data.key === key && data !== repeated;

  useEffect(() => {
    if (!data || "failed" in data || data.key !== key) return;
    setParts((before) => ({
      key,
      of: new Map(before.key === key ? before.of : []).set(data.page, {
        samples: data.samples,
        besides: samples,
      }),
    }));
    // What comes is kept as of the page that was there when it came.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [data]);

  useEffect(() => {
    if (state !== "idle" || isFailed) return;
    const last = Math.min(Math.floor(wanted.last / pageRows) + 1, Math.ceil(total / pageRows));
    for (let number = Math.floor(wanted.first / pageRows) + 1; number <= last; number++)
      if (number !== page && of.get(number)?.besides !== samples)
        return void load(`/library/part?${key}&page=${number}`);
  }, [state, isFailed, wanted, of, page, total, pageRows, samples, key, load]);

  const tryAgain = useCallback(() => setRepeated(data), [data]);
  useEffect(() => {
    window.addEventListener("online", tryAgain);
    return () => window.removeEventListener("online", tryAgain);
  }, [tryAgain]);

  return {
    ...{ total, pageRows, isFailed, tryAgain },
    held: [...samples, ...[...of].flatMap(([number, part]) => (number === page ? [] : part.samples))],
    at(index) {
      const number = Math.floor(index / pageRows) + 1;
      return (number === page ? samples : of.get(number)?.samples)?.[index % pageRows];
    },
    want: (first, last) =>
      setWanted((before) => (before.first === first && before.last === last ? before : { first, last })),
  };
}

const NONE: ReadonlyMap<number, Part> = new Map();
