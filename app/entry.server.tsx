import { PassThrough } from "node:stream";
import { createReadableStreamFromReadable } from "@react-router/node";
import { isbot } from "isbot";
import { renderToPipeableStream } from "react-dom/server";
import { ServerRouter, type EntryContext, type RouterContextProvider } from "react-router";
import { NonceContext } from "./nonce";
import { log } from "#server/log";
import { nonceContext, requestContext } from "#server/auth/personContext";

export const streamTimeout = 10_000;

export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: RouterContextProvider,
): Promise<Response> {
  const nonce = context.get(nonceContext);
  return new Promise((resolve, reject) => {
    let shellDone = false;
    const ready = isbot(request.headers.get("user-agent")) ? "onAllReady" : "onShellReady";
    const { pipe, abort } = renderToPipeableStream(
      <NonceContext.Provider value={nonce}>
        <ServerRouter context={entry} url={request.url} nonce={nonce} />
      </NonceContext.Provider>,
      {
        nonce,
        [ready]() {
          shellDone = true;
          const body = new PassThrough();
          headers.set("Content-Type", "text/html; charset=utf-8");
          resolve(new Response(createReadableStreamFromReadable(body), { status, headers }));
          pipe(body);
        },
        onShellError: reject,
        onError(error: unknown) {
          if (shellDone)
            log.error({ err: error, request: context.get(requestContext) }, "defect while drawing");
        },
      },
    );
    setTimeout(abort, streamTimeout + 1000).unref();
  });
}
