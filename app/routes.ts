import { index, layout, route, type RouteConfig } from "@react-router/dev/routes";

export default [
  route("sign-in", "routes/signIn.tsx"),
  route("sign-out", "routes/signOut.tsx"),
  route("view", "routes/view.tsx"),
  layout("routes/studio.tsx", [
    index("routes/home.tsx"),
    route("library", "routes/library.tsx"),
    route("intakes", "routes/intakes.tsx"),
    route("intakes/:id", "routes/intake.tsx"),
    route("alike", "routes/alike.tsx"),
    route("materials/:id", "routes/bench.tsx", [
      index("routes/benchMaps.tsx"),
      route("judge", "routes/benchJudge.tsx"),
      route("gauge", "routes/benchGauge.tsx"),
      route("finish", "routes/benchFinish.tsx"),
      route("wall", "routes/benchWall.tsx"),
      route("uses", "routes/benchUses.tsx"),
    ]),
    route("collections", "routes/collections.tsx"),
    route("collections/:id", "routes/collection.tsx"),
    route("projects", "routes/projects.tsx"),
    route("projects/:id", "routes/project.tsx"),
    route("deliveries", "routes/deliveries.tsx"),
    route("deliveries/new", "routes/deliveryNew.tsx"),
    route("deliveries/:id", "routes/delivery.tsx"),
    route("profiles", "routes/profiles.tsx"),
    route("people", "routes/people.tsx"),
    route("*", "routes/nowhere.tsx"),
  ]),
] satisfies RouteConfig;
