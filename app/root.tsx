import "@fontsource-variable/hanken-grotesk";
import "@fontsource/spline-sans-mono/400.css";
import "@fontsource/spline-sans-mono/500.css";
import "./styles/app.scss";
import { useContext, type ReactNode } from "react";
import { Links, Meta, Outlet, Scripts, ScrollRestoration } from "react-router";
import { ErrorNotice } from "./components/ErrorNotice";
import { NonceContext } from "./nonce";
import type { Route } from "./+types/root";

export const meta: Route.MetaFunction = () => [{ title: "Kalonomy" }];

export function Layout({ children }: { children: ReactNode }) {
  const nonce = useContext(NonceContext);
  return (
    <html lang="en">
      <head>
        <meta charSet="utf-8" />
        <meta name="viewport" content="width=device-width, initial-scale=1" />
        <link rel="icon" href="/favicon.svg" type="image/svg+xml" />
        <Meta />
        <Links />
      </head>
      <body>
        {children}
        <ScrollRestoration nonce={nonce} />
        <Scripts nonce={nonce} />
      </body>
    </html>
  );
}

export default function Root() {
  return <Outlet />;
}

export function ErrorBoundary({ error }: Route.ErrorBoundaryProps) {
  return (
    <main className="notice-page">
      <ErrorNotice error={error} />
      <p>
        <a href="/library">Back to the library</a>
      </p>
    </main>
  );
}
