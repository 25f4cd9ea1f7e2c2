import { createServer, type Server } from 'node:http';
import { getRequestListener } from '@hono/node-server';
import type { Hono } from 'hono';
import { UsageError } from '../errors.ts';

/** A server that only this machine reaches. */
export interface Loopback {
  /** `http://127.0.0.1:PORT` */
  readonly address: string;
  /** Ends it and every connection to it. */
  close(): Promise<void>;
}

/**
 * Serves an application on 127.0.0.1. A request for another name than this machine’s is refused: a page of someone else cannot have its own
 * name lead here and read what is served.
 * @param port 0 for any that is free
 * @throws UsageError when the port is taken or may not be used
 */
export async function serveLoopback(app: Hono, port: number): Promise<Loopback> {
  const answer = getRequestListener((request: Request) => {
    const name = (request.headers.get('host') ?? '').replace(/:\d+$/, '');
    const isHere = name === '127.0.0.1' || name === 'localhost';
    return isHere ? app.fetch(request) : new Response('not for this name\n', { status: 403 });
  });
  const server = createServer((request, response) => void answer(request, response));
  await listening(server, port);
  const bound = server.address();
  const address = `http://127.0.0.1:${typeof bound === 'object' && bound !== null ? bound.port : port}`;
  return {
    address,
    async close() {
      const closed = new Promise<void>((resolve) => server.close(() => resolve()));
      server.closeAllConnections();
      await closed;
    },
  };
}

async function listening(server: Server, port: number): Promise<void> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  }).catch((error: NodeJS.ErrnoException) => {
    const why = { EADDRINUSE: 'another program listens there', EACCES: 'this user may not listen there' }[error.code ?? ''];
    throw new UsageError({
      what: `port ${port} cannot be used`,
      why: why ?? error.message,
      hint: 'name another with --port, or leave it out for any that is free',
      cause: error,
    });
  });
}
