import { database } from "#server/db/database";
import { listChoices } from "#server/material/choices";
import { look } from "../guard";

/** The collections and projects that something can be given to, for whoever opens the choice. */
export const loader = look(async () => listChoices(database()));
