import { isRouteErrorResponse } from "react-router";

/** What went wrong, in a sentence; details of defects stay in the log. */
export function ErrorNotice({ error }: { error: unknown }) {
  if (isRouteErrorResponse(error))
    return (
      <>
        <h1>
          {error.status === 404 ? "Nothing here" : error.status === 403 ? "Not for you" : "That did not work"}
        </h1>
        <p>
          {typeof error.data === "string" && error.data ? error.data : "There is nothing at this address."}
        </p>
      </>
    );
  return (
    <>
      <h1>Something went wrong here</h1>
      <p>It is logged. Go back and try again; what you had saved is safe.</p>
    </>
  );
}
