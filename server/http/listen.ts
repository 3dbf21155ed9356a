import { createServer, type Server } from "node:http";
import type { Express } from "express";

/** Connections that one process keeps open at a time. */
const MOST_CONNECTIONS = 4096;

/** The server with its times: bodies have theirs in `bodies`, since an upload may take hours. */
export function boundedServer(app: Express): Server {
  const server = createServer(
    {
      headersTimeout: 20_000,
      requestTimeout: 0,
      keepAliveTimeout: 61_000,
      connectionsCheckingInterval: 5_000,
    },
    app,
  );
  server.maxConnections = MOST_CONNECTIONS;
  return server;
}
