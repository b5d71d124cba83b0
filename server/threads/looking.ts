import { Agent, request as ask } from 'node:http';
import { pipeline } from 'node:stream';
import { Worker } from 'node:worker_threads';
import type { RequestHandler } from 'express';
import type { WholeAcademy } from '../keeping/academies';
import { Busy } from '../refused';

/** What the thread of those who look is started with: its database, and settings as the server has them. */
export interface LooksOf {
  url: string;
  log: boolean;
  version: string;
  trustProxy: boolean;
  starter: WholeAcademy['techniques'];
}

/** Requests on their way at once; one more would wait for longer than anybody does. */
const most = 300;
/** Lines to the thread. */
const lines = 32;
/** A thread that ended is started again after this long (milliseconds). */
const restMs = 1000;

/** What is said of one line, and not of what is sent. */
const ofTheLine = new Set(['connection', 'keep-alive', 'transfer-encoding']);

/**
 * Hands requests on to a thread that does nothing else, so that no tap waits behind somebody who looks. While there is no such thread,
 * or while something is wrong with the database, the request goes on to the next handler.
 */
export function lookInThread(
  of: LooksOf,
  whatIsWrong: () => string | null,
): { hand: RequestHandler; close(): Promise<void> } {
  let port: number | null = null;
  let underWay = 0;
  let closed = false;
  const agent = new Agent({ keepAlive: true, maxSockets: lines });
  const begin = (): Worker => {
    const worker = new Worker(new URL('./looks.mjs', import.meta.url), { workerData: of });
    worker.on('message', (at: number) => (port = at));
    worker.on('error', () => undefined);
    worker.on('exit', () => {
      port = null;
      if (!closed) setTimeout(() => closed || (thread = begin()), restMs).unref();
    });
    return worker;
  };
  let thread = begin();
  const hand: RequestHandler = (request, response, next) => {
    if (port === null || whatIsWrong() !== null) return next();
    if (underWay >= most) throw new Busy('Too many people look at once.');
    underWay++;
    const { originalUrl: path, headers } = request;
    const asked = ask({ host: '127.0.0.1', port, path, headers, agent }, (told) => {
      response.status(told.statusCode!);
      for (const [name, value] of Object.entries(told.headers))
        if (value !== undefined && !ofTheLine.has(name)) response.setHeader(name, value);
      pipeline(told, response, () => undefined);
    });
    asked.on('error', () => {
      // Who asked has gone, or half of it is there.
      if (response.closed || response.headersSent) response.destroy();
      else next(new Busy('Who looks was not heard.'));
    });
    response.once('close', () => {
      underWay--;
      asked.destroy();
    });
    asked.end();
  };
  return {
    hand,
    close: async () => {
      closed = true;
      agent.destroy();
      await thread.terminate();
    },
  };
}
