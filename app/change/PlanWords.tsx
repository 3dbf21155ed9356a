import type { PlannedChange } from "#server/change/commands";

/** What the first of them would become, and the projects that have any of them, or would. */
export function PlanWords({ total, items, projects }: PlannedChange) {
  const refused = items.filter(({ reason }) => reason !== null);
  const changed = items.filter(({ said }) => said.length > 0);
  const same = items.length - refused.length - changed.length;
  const first = items.length < total ? `Of the first ${items.length}: ` : "";
  return (
    <div className="change-plan" role="status">
      <p>
        {first}
        {changed.length} would change
        {same > 0 && `, ${same} ${same === 1 ? "is" : "are"} so already`}
        {refused.length > 0 && (
          <span className="mark look">
            , {refused.length} cannot: {refused[0].name}, {refused[0].reason}
          </span>
        )}
        .{" "}
        {projects.length > 0
          ? `It touches ${projects.map(({ name, materials }) => `${name} (${materials})`).join(", ")}.`
          : "It touches no project."}
      </p>
      <ul>
        {changed.slice(0, 6).map(({ material, name, said }) => (
          <li key={material}>
            {name}:{" "}
            {said.map((one) => (
              <span key={one.name}>
                {one.name} <del>{one.before}</del> <ins>{one.after}</ins>{" "}
              </span>
            ))}
          </li>
        ))}
        {changed.length > 6 && <li className="dim">and {changed.length - 6} more</li>}
      </ul>
    </div>
  );
}
