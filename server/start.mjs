// The web process: serves the built application on PORT.
import { start } from "../build/server/index.js";

await start();
