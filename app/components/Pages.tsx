import { Link, useSearchParams } from "react-router";

/** The way to the pages before and after; nothing where a list is on one page. */
export function Pages({ page, next, range }: { page: number; next: number | null; range?: string }) {
  const [params] = useSearchParams();
  const to = (number: number) =>
    `?${new URLSearchParams({ ...Object.fromEntries(params), page: String(number) })}`;
  if (page === 1 && next === null) return null;
  return (
    <nav className="pages" aria-label="Pages">
      {page > 1 && <Link to={to(page - 1)}>Earlier</Link>}
      <span>{range ?? `Page ${page}`}</span>
      {next !== null && <Link to={to(next)}>Further</Link>}
    </nav>
  );
}
