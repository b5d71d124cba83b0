import { endpoints, type LiveFacts } from '@ulkret/contract';
import type { Router } from 'express';
import type { Db } from '../db/connect';
import { admitted } from '../http/gate';
import { Busy, Refused } from '../refused';
import { coachOf, hereHash } from '../access/sign-in';
import type { Live } from '../live/live';

/** A comment line this often keeps proxies and phones from closing a silent stream, and shows the server that nobody listens. */
const beatMs = 15_000;
/** A client that reads too slowly is cut off: it comes back, and asks for everything. */
const mostUnreadBytes = 1_000_000;
/** Every tab of a device has a stream; nobody has this many tabs. */
const mostOfASignIn = 24;

export function liveRoutes(router: Router, db: Db, live: Live): void {
  const open = new Map<string, number>();
  router.get(endpoints.live.path, async (request, response) => {
    const coach = await admitted(db, endpoints.live, request);
    // A client that left during the lookup is not listened for.
    if (response.closed) return;
    const who = hereHash(request);
    const streams = open.get(who) ?? 0;
    if (streams >= mostOfASignIn) throw new Busy('Too many open pages on this device.');
    open.set(who, streams + 1);
    response.set({
      'Content-Type': 'text/event-stream',
      // Compression would hold events back until its buffer is full.
      'Cache-Control': 'no-store, no-transform',
      'X-Accel-Buffering': 'no',
    });
    response.flushHeaders();
    const send = (facts: LiveFacts | null) => {
      if (response.writableLength > mostUnreadBytes) response.destroy();
      else response.write(`event: ${facts ? 'facts' : 'all'}\ndata: ${JSON.stringify(facts)}\n\n`);
    };
    response.write('retry: 1000\n\n');
    const leave = live.subscribe(coach.academyId, send, {
      coach: coach.id,
      onClosed: () => response.end(),
    });
    // Doors that were closed while this one was opened were told to nobody here.
    if (!(await coachOf(db, request))) response.end();
    const beat = setInterval(() => {
      response.write(': still here\n\n');
      // A stream ends with its sign-in. A database that is away says nothing about that.
      admitted(db, endpoints.live, request).catch((error: unknown) => {
        if (error instanceof Refused) response.end();
      });
    }, beatMs);
    response.on('close', () => {
      clearInterval(beat);
      leave();
      const left = open.get(who)! - 1;
      if (left > 0) open.set(who, left);
      else open.delete(who);
    });
  });
}
