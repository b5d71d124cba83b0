import path from 'node:path';
import { endpoints, serverTime } from '@ulkret/contract';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import express, { type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { Db } from './db/connect';
import { bodies } from './http/bodies';
import { onlyLooks } from './http/gate';
import { refuse } from './http/refusals';
import { Refused } from './refused';
import type { Settings } from './routes/settings';
import { limitsOf } from './access/limits';
import { accessRoutes } from './routes/access';
import { keepingRoutes } from './routes/keeping';
import { libraryRoutes } from './routes/library';
import { liveRoutes } from './routes/live';
import { peopleRoutes } from './routes/people';
import { prescriptionRoutes } from './routes/prescriptions';
import { readingRoutes } from './routes/readings';
import { factRoutes } from './routes/facts';
import { careRoutes } from './routes/care';
import { classRoutes } from './routes/class';

/** Logs each request: nothing of who asks, nor of what was sent. */
const logging = (logger: Logger) =>
  pinoHttp({
    logger: logger,
    quietReqLogger: true,
    customLogLevel: levelOf,
    // Nothing of who asks, nor of what was sent.
    serializers: {
      req: ({ id, method, url }: { id: unknown; method: string; url: string }) => ({ id, method, url }),
      // A header may set a cookie.
      res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
    },
  });

/** The whole HTTP application over one database. It keeps no state of its own, so any number may run in parallel. */
export function createServer(db: Db, settings: Settings): Express {
  const app = express();
  app.disable('x-powered-by');
  // Nothing of the interface is stored by a browser: a digest of every answer would be for nobody.
  app.disable('etag');
  app.set('trust proxy', settings.trustProxy ? 1 : false);
  app.use(
    helmet({
      // The app is served over plain HTTP on a club's own network, where an upgrade to HTTPS would break it.
      strictTransportSecurity: false,
      contentSecurityPolicy: {
        directives: {
          upgradeInsecureRequests: null,
          styleSrc: ["'self'", "'unsafe-inline'"],
          connectSrc: ["'self'"],
        },
      },
    }),
  );
  app.use((request, response, next) => {
    // A client that came by HTTPS stays on HTTPS for half a year.
    if (request.secure) response.set('Strict-Transport-Security', 'max-age=15552000');
    next();
  });
  // Quickly rather than small: most devices are in the same room.
  app.use(compression({ level: 2 }));
  if (settings.log) app.use('/api', logging(settings.log));
  app.use('/api', fromHere, cookieParser(), bodies(db));
  app.use('/api', (_, response, next) => {
    // Devices set their clocks by it: what is logged without a network must not hang on a wrong one.
    response.set({ 'Cache-Control': 'no-store', [serverTime]: String(Date.now()) });
    next();
  });
  const api = express.Router();
  const { looks } = settings;
  if (looks)
    for (const endpoint of Object.values(endpoints)) if (onlyLooks(endpoint)) api.get(endpoint.path, looks);
  const limits = limitsOf(db);
  keepingRoutes(api, db, settings);
  accessRoutes(api, db, settings, limits);
  libraryRoutes(api, db, settings);
  peopleRoutes(api, db, settings);
  classRoutes(api, db);
  careRoutes(api, db);
  factRoutes(api, db, settings.transfers);
  readingRoutes(api, db, settings.readings);
  prescriptionRoutes(api, db, limits);
  if (settings.live) liveRoutes(api, db, settings.live);
  app.use(api);
  app.use('/api', (request) => {
    throw new Refused(
      404,
      `There is nothing at ${request.originalUrl}.`,
      'See /api/openapi.json for what there is.',
    );
  });

  const { security } = settings;
  if (security !== null)
    app.get('/.well-known/security.txt', (_, response) => {
      response.type('text/plain').send(securityText(security));
    });

  if (settings.webRoot !== null) {
    const root = settings.webRoot;
    app.use(
      '/assets',
      express.static(path.join(root, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
    );
    app.use(express.static(root, { index: false }));
    app.get('/{*path}', (_, response) => {
      response.set('Cache-Control', 'no-cache').sendFile(path.join(root, 'index.html'));
    });
  }
  app.use((request) => {
    throw new Refused(404, `There is nothing at ${request.method} ${request.path}.`, 'Start at /.');
  });
  app.use(refuse(settings.whatIsWrong));
  return app;
}

/** The contact for security reports (RFC 9116), valid for half a year from now. */
const securityText = (contact: string): string => {
  const expires = new Date(Date.now() + 180 * 86_400_000).toISOString();
  return `Contact: ${contact}\nExpires: ${expires}\nPreferred-Languages: en\n`;
};

/** What changes something comes from a page of this server, or from no page at all: no other page asks in a coach’s name. */
const fromHere: RequestHandler = (request, _, next) => {
  const site = request.get('sec-fetch-site');
  const origin = request.get('origin');
  const elsewhere =
    site === undefined
      ? origin !== undefined && !(URL.canParse(origin) && new URL(origin).host === request.host)
      : site !== 'same-origin' && site !== 'none';
  if (elsewhere && !['GET', 'HEAD', 'OPTIONS'].includes(request.method))
    throw new Refused(
      403,
      'This request came from another site.',
      'Open Ulkret itself and do it there; nothing was changed.',
    );
  next();
};

const levelOf = (_: unknown, response: { statusCode: number }) =>
  response.statusCode >= 500 ? ('error' as const) : ('debug' as const);
