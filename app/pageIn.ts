import { pageNumber } from "#server/db/page";

/** The page that an address asks for; the first where it asks for none, or for nonsense. */
export const pageIn = (request: Request): number =>
  pageNumber.catch(1).parse(new URL(request.url).searchParams.get("page") ?? undefined);
