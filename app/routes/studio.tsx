import type { ReactNode } from "react";
import { isRouteErrorResponse, NavLink, Outlet, useMatches, useRouteError } from "react-router";
import type { Person } from "#server/auth/person";
import { ErrorNotice } from "../components/ErrorNotice";
import { TitleBlock } from "../components/TitleBlock";
import { look } from "../guard";
import { LiveProvider } from "../view/live";
import { SelectionProvider } from "../view/selection";
import { TitleBlockProvider } from "../view/titleBlock";
import { ViewProvider } from "../view/viewContext";
import type { Route } from "./+types/studio";

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({ person }));

/** In the order of the work. */
const PLACES = [
  ["library", "Library"],
  ["intakes", "Intake"],
  ["suppliers", "Suppliers"],
  ["collections", "Collections"],
  ["projects", "Projects"],
  ["deliveries", "Deliveries"],
  ["profiles", "Profiles"],
  ["people", "People"],
] as const;

export default function Studio({ loaderData: { person } }: Route.ComponentProps) {
  return (
    <Sheet person={person}>
      <Outlet />
    </Sheet>
  );
}

function Sheet({
  person,
  children,
}: {
  person: Route.ComponentProps["loaderData"]["person"];
  children: ReactNode;
}) {
  const onBench = useMatches().some(({ pathname }) => pathname.startsWith("/materials/"));
  return (
    <ViewProvider person={person}>
      <LiveProvider>
        <SelectionProvider>
          <TitleBlockProvider>
            <a className="visually-hidden-focusable skip" href="#content">
              To the content
            </a>
            <div className="sheet">
              <header className="register">
                <span className="brand">Kalonomy</span>
                <nav aria-label="Places">
                  {PLACES.map(([path, name]) => (
                    <NavLink
                      key={path}
                      to={`/${path}`}
                      className={path === "library" && onBench ? "active" : undefined}
                    >
                      {name}
                    </NavLink>
                  ))}
                </nav>
              </header>
              <main id="content" tabIndex={-1}>
                {children}
              </main>
              <TitleBlock person={person} />
            </div>
          </TitleBlockProvider>
        </SelectionProvider>
      </LiveProvider>
    </ViewProvider>
  );
}

export function ErrorBoundary({ loaderData }: Route.ErrorBoundaryProps) {
  const error = useRouteError();
  if (!isRouteErrorResponse(error)) console.error(error);
  const notice = (
    <div className="page">
      <ErrorNotice error={error} />
    </div>
  );
  return loaderData ? <Sheet person={loaderData.person}>{notice}</Sheet> : notice;
}
