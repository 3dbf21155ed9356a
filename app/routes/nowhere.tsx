import { data } from "react-router";
import { look } from "../guard";

export const loader = look(async () => {
  throw data("There is nothing at this address.", { status: 404 });
});

export default function Nowhere() {
  return null;
}
