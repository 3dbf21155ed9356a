import { redirect } from "react-router";
import { look } from "../guard";

export const loader = look(async () => {
  throw redirect("/library");
});
