import { z } from "zod";

/** Rows of one page of a list. */
export const PAGE_ROWS = 60;
export const pageNumber = z.coerce.number().int().min(1).max(100_000).default(1);

export interface Slice {
  offset: number;
  limit: number;
}

/** The rows of a page, of a list whose length is known. */
export const sliceOf = (page: number): Slice => ({ offset: (page - 1) * PAGE_ROWS, limit: PAGE_ROWS });

/** What is said of a page: the next one, or null, and which rows it has. One that lies behind the last stands right behind it. */
export function pageOf(asked: number, total: number): { page: number; next: number | null; range: string } {
  const page = Math.min(asked, Math.ceil(total / PAGE_ROWS) + 1);
  const { offset } = sliceOf(page);
  const last = Math.min(total, offset + PAGE_ROWS);
  const range = offset < total ? `${offset + 1}–${last} of ${total}` : `nothing more of ${total}`;
  return { page, next: last < total ? page + 1 : null, range };
}

/** One page of a list whose length is not known; it is asked for one row more, which tells whether there is a next page. */
export async function readPage<T>(
  page: number,
  list: (slice: Slice) => Promise<T[]>,
): Promise<{ items: T[]; page: number; next: number | null }> {
  const found = await list({ ...sliceOf(page), limit: PAGE_ROWS + 1 });
  return { items: found.slice(0, PAGE_ROWS), page, next: found.length > PAGE_ROWS ? page + 1 : null };
}
