import { createServer } from "node:net";

/** A port on loopback that nobody listens on now. */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.on("error", reject);
    server.listen(0, "127.0.0.1", () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });
}

/** Whether something listens on a port of loopback, or of all addresses. */
export function portIsTaken(port) {
  return new Promise((resolve) => {
    const server = createServer();
    server.on("error", () => resolve(true));
    server.listen(port, () => server.close(() => resolve(false)));
  });
}
