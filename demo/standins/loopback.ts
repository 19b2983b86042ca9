import { createServer, type RequestListener } from 'node:http';
import type { AddressInfo } from 'node:net';

/** A stand-in that runs: where it answers, and how it is ended. */
export interface StandIn {
  readonly address: string;
  stop(): Promise<void>;
}

/** Serves on a free port of loopback; it keeps no process alive. */
export async function onLoopback(answer: RequestListener): Promise<StandIn> {
  const server = createServer(answer);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  server.unref();
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((done) => {
        server.closeAllConnections();
        server.close(() => done());
      }),
  };
}
