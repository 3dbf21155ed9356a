import { Writable } from "node:stream";
import { renderToPipeableStream } from "react-dom/server";
import { ServerRouter, type EntryContext, type RouterContextProvider } from "react-router";
import { NonceContext } from "./nonce";
import { nonceContext, requestContext } from "#server/auth/personContext";
import { log } from "#server/log";

/** A page is drawn whole before it is sent: none of ours has parts that come later. */
export default function handleRequest(
  request: Request,
  status: number,
  headers: Headers,
  entry: EntryContext,
  context: RouterContextProvider,
): Promise<Response> {
  const nonce = context.get(nonceContext);
  return new Promise((resolve, reject) => {
    const parts: Uint8Array[] = [];
    const page = new Writable({
      write(part: Uint8Array, _encoding, done) {
        parts.push(part);
        done();
      },
      final(done) {
        headers.set("Content-Type", "text/html; charset=utf-8");
        resolve(new Response(new Uint8Array(Buffer.concat(parts)), { status, headers }));
        done();
      },
    });
    const { pipe } = renderToPipeableStream(
      <NonceContext.Provider value={nonce}>
        <ServerRouter context={entry} url={request.url} nonce={nonce} />
      </NonceContext.Provider>,
      {
        nonce,
        onAllReady: () => pipe(page),
        onShellError: reject,
        onError(error: unknown) {
          log.error({ err: error, request: context.get(requestContext) }, "defect while drawing");
        },
      },
    );
  });
}
