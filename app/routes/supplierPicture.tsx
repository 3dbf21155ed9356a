import { data } from "react-router";
import { look } from "../guard";
import { ownSupplierClient, SupplierError } from "#server/supplier/client";
import type { Route } from "./+types/supplierPicture";

/** A product's picture, fetched by us: the page itself talks to nobody else. */
export const loader = look(async ({ params }: Route.LoaderArgs) => {
  const client = ownSupplierClient();
  const code = /^[A-Za-z0-9-]{1,80}$/.test(params.code ?? "") ? params.code! : undefined;
  if (!client || !code) throw data("There is no such picture.", { status: 404 });
  try {
    return new Response(new Uint8Array(await client.picture(code)), {
      headers: {
        "Content-Type": "image/jpeg",
        "X-Content-Type-Options": "nosniff",
        "Cache-Control": "private, max-age=3600",
      },
    });
  } catch (error) {
    if (error instanceof SupplierError) throw data(error.message, { status: 404 });
    throw error;
  }
});
