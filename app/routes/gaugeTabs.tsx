import { NavLink, Outlet } from "react-router";
import { useBench } from "../view/useBench";

/** What belongs to the real size of a material, each on a sheet of its own. */
export default function GaugeTabs() {
  const bench = useBench();
  const tabs = [
    { to: ".", name: "Size", end: true },
    { to: "compare", name: "Compare" },
    { to: "fit", name: "Fit to a surface" },
    { to: "turn", name: "Turn and start" },
    { to: "flatten", name: "Flatten a photograph" },
  ];
  return (
    <>
      <nav className="gauge-tabs" aria-label="Gauge">
        {tabs.map(({ to, name, end }) => (
          <NavLink key={to} to={to} end={end} relative="route">
            {name}
          </NavLink>
        ))}
      </nav>
      <Outlet context={bench} />
    </>
  );
}
