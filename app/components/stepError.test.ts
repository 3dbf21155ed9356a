import { expect, test } from "@jest/globals";
import { createElement } from "react";
import { renderToString } from "react-dom/server";
import { createStaticHandler, createStaticRouter, Outlet, StaticRouterProvider } from "react-router";
import { StepError } from "./StepError";

/** What a page shows whose step fails as told. */
async function pageWith(failure: unknown): Promise<string> {
  const routes = [
    {
      path: "/material",
      Component: () => createElement("main", null, "The rail of steps", createElement(Outlet)),
      children: [
        {
          path: "judge",
          loader: () => Promise.reject(failure as Error),
          Component: () => createElement("p", null, "The step"),
          ErrorBoundary: StepError,
        },
      ],
    },
  ];
  const handler = createStaticHandler(routes);
  const context = await handler.query(new Request("http://studio.example/material/judge"));
  if (context instanceof Response) throw new Error("It answered by itself.");
  const router = createStaticRouter(handler.dataRoutes, context);
  return renderToString(createElement(StaticRouterProvider, { router, context, hydrate: false }));
}

test("a step that fails leaves the rest of the page, says nothing of a defect, and can be loaded again", async () => {
  const page = await pageWith(new Error("SELECT secret FROM people"));
  expect(page).toContain("The rail of steps");
  expect(page).toContain("Something went wrong here");
  expect(page).toContain("Load again");
  expect(page).not.toContain("secret");
  expect(page).not.toContain("The step<");
});

test("what is not there, or not for whoever asks, is said in words", async () => {
  const answer = (status: number, text: string) =>
    new Response(text, { status, headers: { "Content-Type": "text/plain" } });
  expect(await pageWith(answer(404, "There is no such material."))).toContain("There is no such material.");
  expect(await pageWith(answer(403, ""))).toContain("Not for you");
});
