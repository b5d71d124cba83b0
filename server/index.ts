import path from 'node:path';
import { type Endpoint, endpoints, openApi, serverTime } from '@ulkret/contract';
import compression from 'compression';
import cookieParser from 'cookie-parser';
import { sql } from 'drizzle-orm';
import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { WholeAcademy } from './db/academies';
import type { Db } from './db/connect';
import { answer, refuse, Refused } from './http';
import { accessRoutes } from './routes/access';
import type { Live } from './live/live';
import { libraryRoutes } from './routes/library';
import { liveRoutes } from './routes/live';
import { peopleRoutes } from './routes/people';
import { readingRoutes } from './routes/readings';
import { repRoutes } from './routes/reps';
import { sessionRoutes } from './routes/sessions';

/** What a server is started with; nothing of it is read from the environment. */
export interface Settings {
  version: string;
  /** Folder of the built web app; null serves the API alone. */
  webRoot: string | null;
  /** Told on the sign-in page where the demo academy is loaded. */
  demoSignIn: { email: string; password: string } | null;
  /** Breakdowns that a new academy can start with. */
  starter: WholeAcademy['techniques'];
  /** Null keeps quiet. */
  log: Logger | null;
  /** What devices send, for the others to hear; null where they have to ask. */
  live: Live | null;
}

const minute = 60_000;

/** The whole HTTP application over one database. It keeps no state of its own, so any number may run beside each other. */
export function createServer(db: Db, settings: Settings): Express {
  const app = express();
  app.disable('x-powered-by');
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
  app.use(compression());
  if (settings.log)
    app.use('/api', pinoHttp({ logger: settings.log, quietReqLogger: true, customLogLevel: levelOf }));
  app.use(
    '/api',
    cookieParser(),
    express.json({ limit: '8mb' }),
    express.text({ type: 'text/csv', limit: '32mb' }),
  );
  app.use('/api', (_, response, next) => {
    // Devices set their clocks by it: what is logged without a network must not hang on a wrong one.
    response.set({ 'Cache-Control': 'no-store', [serverTime]: String(Date.now()) });
    next();
  });
  const failedSignIns = rateLimit({
    windowMs: 5 * minute,
    limit: 20,
    skipSuccessfulRequests: true,
    handler: () => {
      throw new Refused(429, 'Too many wrong sign-ins from here.', 'Wait five minutes and try again.');
    },
  });
  app.post(endpoints.signIn.path, failedSignIns);

  const api = express.Router();
  answer(api, db, endpoints.health, async () => {
    await db.execute(sql`select 1`);
    return { status: 'ok' as const, version: settings.version, database: 'ok' as const };
  });
  const document = openApi(endpoints as Readonly<Record<string, Endpoint>>, settings.version);
  api.get('/api/openapi.json', (_, response) => void response.json(document));
  accessRoutes(api, db, settings);
  libraryRoutes(api, db);
  peopleRoutes(api, db);
  sessionRoutes(api, db);
  repRoutes(api, db);
  readingRoutes(api, db);
  if (settings.live) liveRoutes(api, db, settings.live);
  app.use(api);
  app.use('/api', (request) => {
    throw new Refused(
      404,
      `There is nothing at ${request.originalUrl}.`,
      'See /api/openapi.json for what there is.',
    );
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
  app.use(refuse);
  return app;
}

const levelOf = (_: unknown, response: { statusCode: number }) =>
  response.statusCode >= 500 ? ('error' as const) : ('debug' as const);
