import { createServer, connect, type AddressInfo, type Socket } from "node:net";

/** A way to the database that can be closed: what goes through is cut, and what comes is refused, until it is opened again. */
export async function databaseProxy(databaseUrl: string) {
  const { hostname, port } = new URL(databaseUrl);
  const sockets = new Set<Socket>();
  let isOpen = true;
  const server = createServer((near) => {
    if (!isOpen) return void near.destroy();
    const far = connect(Number(port), hostname);
    for (const socket of [near, far]) {
      sockets.add(socket);
      socket.on("error", () => undefined);
      socket.on("close", () => {
        sockets.delete(socket);
        near.destroy();
        far.destroy();
      });
    }
    near.pipe(far).pipe(near);
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  const url = new URL(databaseUrl);
  url.port = String((server.address() as AddressInfo).port);
  const cut = () => {
    isOpen = false;
    for (const socket of sockets) socket.destroy();
  };
  return {
    url: url.href,
    cut,
    open: () => void (isOpen = true),
    async close() {
      cut();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}
