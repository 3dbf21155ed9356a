import type { CheckedLink, LinkState } from "#server/links/checkLinks";
import { CopyText } from "../components/CopyText";

const STATES: Record<LinkState, [words: string, mark: string]> = {
  there: ["there", "known"],
  replaced: ["there, and the material has a newer revision", "look"],
  moved: ["moved", "look"],
  unknown: ["not known here", "wrong"],
};

/** How many are shown; the rest is counted. */
const SHOWN = 800;

/**
 * What became of paths: how many are of each state, and the paths themselves.
 * @param counts of all of them, where these are only the first
 */
export function CheckedLinks({
  links,
  counts,
}: {
  links: CheckedLink[];
  counts?: Partial<Record<LinkState, number>>;
}) {
  const of = (state: LinkState) =>
    counts ? (counts[state] ?? 0) : links.filter((link) => link.state === state).length;
  const moved = links.filter(({ now }) => now !== null);
  const total = counts ? Object.values(counts).reduce((sum, one) => sum + one, 0) : links.length;
  return (
    <section aria-label="What was found">
      <p role="status">
        {total} {total === 1 ? "path" : "paths"}: {of("there")} there, {of("replaced")} with a newer revision,{" "}
        {of("moved")} moved, {of("unknown")} not known here.{" "}
        {moved.length > 0 && !counts && (
          <CopyText
            text={moved.map(({ path, now }) => `${path}\t${now}`).join("\n")}
            what="old and new paths of what moved"
          />
        )}
      </p>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">Path</th>
            <th scope="col">Is</th>
            <th scope="col">Now</th>
          </tr>
        </thead>
        <tbody>
          {links.slice(0, SHOWN).map(({ path, state, destination, now }, at) => (
            <tr key={at}>
              <td className="file">{path}</td>
              <td>
                <span className={`mark ${STATES[state][1]}`}>{STATES[state][0]}</span>
                {destination && <span className="dim"> {destination}</span>}
              </td>
              <td className="file">{now}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {total > Math.min(links.length, SHOWN) && (
        <p className="dim">
          and {total - Math.min(links.length, SHOWN)} more{counts && ", in the table to download"}
        </p>
      )}
    </section>
  );
}
