import { containerKind } from "#core/formats/containers";
import { ROLE_NAMES } from "#core/roles/roles";
import { database } from "#server/db/database";
import { listDestinations } from "#server/destination/queries";
import { listProfiles } from "#server/profile/sql";
import { Notes } from "../components/Notes";
import { look } from "../guard";
import type { Route } from "./+types/profiles";

export const meta: Route.MetaFunction = () => [{ title: "Profiles – Kalonomy" }];

export const loader = look(async () => ({
  profiles: await listProfiles(database()),
  destinations: await listDestinations(database()),
}));

/** What each renderer wants, to read. */
export default function Profiles({ loaderData: { profiles, destinations } }: Route.ComponentProps) {
  return (
    <div className="page">
      <h1>Profiles</h1>
      {profiles.map((profile) => (
        <section className="plan" key={profile.id}>
          <h2>{profile.name}</h2>
          <p>{profile.description}</p>
          <p className="number dim">
            sizes in {profile.unit} · normals {profile.normalDirection.replace("-", "−")} ·{" "}
            {profile.maxPixels ? `${profile.maxPixels} px at most` : "any size"} ·{" "}
            {profile.delivers === "images"
              ? "images"
              : `one ${containerKind(profile.delivers).name} a material`}
          </p>
          <table className="ledger tight">
            <thead>
              <tr>
                <th scope="col">Input</th>
                <th scope="col">Gets</th>
                <th scope="col">File</th>
              </tr>
            </thead>
            <tbody>
              {profile.outputs.map((output) => (
                <tr key={output.slot}>
                  <td>{output.slot}</td>
                  <td>
                    {output.kind === "packed"
                      ? output.channels
                          .map((role, at) => `${["red", "green", "blue"][at]} ${ROLE_NAMES[role]}`)
                          .join(", ")
                      : ROLE_NAMES[output.role]}
                    {output.kind === "map" && output.multiplyOcclusion && ", ambient occlusion multiplied in"}
                    {output.kind === "map" && output.opacityInAlpha && ", opacity in its fourth channel"}
                  </td>
                  <td className="number">
                    {output.kind === "packed" ? 8 : output.bitDepth}-bit {output.format.toUpperCase()}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <Notes title="Left to do at the receiving end" lines={profile.steps.map(({ text }) => text)} />
        </section>
      ))}
      <h2>Destinations</h2>
      <table className="ledger">
        <tbody>
          {destinations.map(({ id, name, folder }) => (
            <tr key={id}>
              <td>{name}</td>
              <td className="file">{folder}/</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
