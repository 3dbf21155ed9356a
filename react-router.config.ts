import type { Config } from "@react-router/dev/config";

export default {
  ssr: true,
  future: { v8_middleware: true },
  // All at once: of places that come to be known one by one, /materials/find is taken for the material “find” until it is.
  routeDiscovery: { mode: "initial" },
} satisfies Config;
