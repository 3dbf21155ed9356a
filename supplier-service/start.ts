import type { AddressInfo } from "node:net";
import { createService } from "./service";

/** The process of the stand-in: `SUPPLIER_PORT` says where it listens, on this machine only; `SUPPLIER_FOLDER` where it keeps what it drew. */
const service = createService(process.env.SUPPLIER_FOLDER ?? ".data/supplier");
const server = service.app.listen(Number(process.env.SUPPLIER_PORT ?? 0), "127.0.0.1", () => {
  console.log(`The supplier service listens on port ${(server.address() as AddressInfo).port}.`);
  service.drawAhead().catch((error: Error) => console.error(`A picture was not drawn: ${error.message}`));
});
server.on("error", (error) => {
  console.error(`The supplier service cannot listen: ${error.message}`);
  process.exit(1);
});
for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.once(signal, () => {
    const leave = () => process.exit(0);
    server.close(() => void service.close().then(leave, leave));
    server.closeAllConnections();
  });
