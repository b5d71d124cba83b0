import { createServer as createHttpServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { parentPort, workerData } from 'node:worker_threads';
import { pino } from 'pino';
import { createServer } from '../index';
import { ownDatabase } from './database';
import { readInThread, transferInThread } from './desk';
import type { LooksOf } from './looking';

// The whole application once more, for those who only look. It says at which port of this machine it hears them.
const { url, log, ...settings } = workerData as LooksOf;
// A question of a page has several parts, and each waits for its connection as long as its asker does.
const [connections, patienceMs] = [3, 20_000];

const http = createHttpServer(
  createServer(ownDatabase(connections, patienceMs), {
    ...settings,
    log: log ? pino({ level: 'warn' }) : null,
    readings: readInThread(url),
    transfers: transferInThread(url),
    webRoot: null,
    demoSignIn: null,
    firstCode: null,
    security: null,
    whatIsWrong: () => null,
    live: null,
    keeper: null,
    looks: null,
  }),
);
// The other side ends a line that it does not need; one that was ended here could be in use there.
http.keepAliveTimeout = 0;
http.listen(0, '127.0.0.1', () => parentPort!.postMessage((http.address() as AddressInfo).port));
