import { endpoints, type LiveFacts } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { admitted } from '../http';
import type { Live } from './live';

/** A comment line this often keeps proxies and phones from closing a silent stream, and shows the server that nobody listens. */
const beatMs = 15_000;

export function liveRoutes(router: Router, db: Db, live: Live): void {
  router.get(endpoints.live.path, async (request, response) => {
    const coach = await admitted(db, endpoints.live, request);
    response.set({
      'Content-Type': 'text/event-stream',
      // Compression would hold events back until its buffer is full.
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    const send = (facts: LiveFacts | null) =>
      response.write(`event: ${facts ? 'facts' : 'all'}\ndata: ${JSON.stringify(facts)}\n\n`);
    response.write('retry: 1000\n\n');
    const leave = live.subscribe(coach.academyId, send);
    const beat = setInterval(() => response.write(': still here\n\n'), beatMs);
    request.on('close', () => {
      clearInterval(beat);
      leave();
    });
  });
}
