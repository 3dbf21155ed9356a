import { mendWords } from "#core/mend/recipe";
import { ROLE_NAMES, type Role } from "#core/roles/roles";
import type { SeamReading } from "#core/judge/seams";
import type { MapChannel } from "#core/roles/channel";
import type { MendFigures, MendRow } from "#server/mending/queries";
import { Form } from "react-router";
import { Button } from "./Button";
import { Outcome } from "./Mends";
import { closePreviewUrl } from "./previewUrl";
import { SeamSample } from "./SeamSample";

/** A mend that is done and waits to be kept, with what it made of each map. */
export interface Waiting {
  id: string;
  recipe: MendRow["recipe"];
  figures: MendFigures;
  maps: {
    role: Role;
    sha256: string;
    channel: MapChannel;
    width: number;
    height: number;
    seams?: SeamReading;
  }[];
}

/** The mended picture, tiled. */
export function MendedSample({ waiting, role }: { waiting: Waiting; role: Role }) {
  const map = waiting.maps.find((one) => one.role === role) ?? waiting.maps[0];
  return (
    <SeamSample url={closePreviewUrl(map)} tiled seams={map.seams} width={map.width} height={map.height} />
  );
}

/** What it changed, and whether it is kept. */
export function WaitingMend({ waiting, mayMake }: { waiting: Waiting; mayMake: boolean }) {
  const changed = waiting.maps.map(({ role }) => ROLE_NAMES[role]).join(", ");
  return (
    <section aria-labelledby="waiting" className="waiting">
      <h2 id="waiting">{mendWords(waiting.recipe)}, not kept yet</h2>
      <p>
        The picture shows it tiled three by three
        <Outcome recipe={waiting.recipe} figures={waiting.figures} />. Maps: {changed}.
      </p>
      {mayMake && (
        <Form method="post" className="acts">
          <input type="hidden" name="waiting" value={waiting.id} />
          <Button type="submit" name="answer" value="keep" size="sm">
            Keep it
          </Button>
          <Button type="submit" name="answer" value="drop" size="sm" variant="outline-secondary">
            Discard
          </Button>
        </Form>
      )}
    </section>
  );
}
