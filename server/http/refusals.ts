import type { Refusal } from '@ulkret/contract';
import type { ErrorRequestHandler } from 'express';
import { Busy, ProveAgain, Refused } from '../refused';

/** Why a body could not be read, by what its reader calls it, and what to do about it. */
const unreadable: Readonly<Record<string, Refusal>> = {
  'entity.too.large': { error: 'Too much at once.', todo: 'Send it in smaller parts.' },
  'entity.parse.failed': {
    error: 'The body is not valid JSON.',
    todo: 'Send it again as JSON; nothing was changed.',
  },
  'charset.unsupported': {
    error: 'The body’s character set is not supported.',
    todo: 'Send it as UTF-8; nothing was changed.',
  },
  'encoding.unsupported': {
    error: 'The body’s compression is not supported.',
    todo: 'Send it uncompressed or as gzip; nothing was changed.',
  },
  'request.size.invalid': {
    error: 'The body’s length does not match its header.',
    todo: 'Send it again; nothing was changed.',
  },
  'request.aborted': {
    error: 'The body broke off.',
    todo: 'Send it again; nothing was changed.',
  },
};

/** Codes of a database that is away, going or coming. */
const unreachable = new Set([
  ...['ECONNREFUSED', 'ECONNRESET', 'EPIPE', 'ETIMEDOUT'],
  ...['57P01', '57P02', '57P03', '08000', '08001', '08003', '08004', '08006'],
]);
/** Codes of one that is too busy: a lock, a statement or a transaction took too long, or no connection is left. */
const overloaded = new Set(['55P03', '57014', '25P03', '25P04', '40P01', '53300', '53400']);
/** What the pool says of a connection that broke while it was used, and of one that could not be had: it gives these no code. */
const broken = /connection terminated|connection error|not queryable/i;
const noneFree = /timeout exceeded when trying to connect/;
/** Codes of a database that cannot write: its disk is full, or its memory. */
const full = new Set(['53000', '53100', '53200', '58030']);

/** Seconds after which a retry makes sense. */
const againAfter = 3;

/** Every error as one clear refusal; what is nobody's fault but ours is logged and not told. */
export const refuse =
  (whatIsWrong: () => string | null): ErrorRequestHandler =>
  (error: unknown, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const { status, refusal } = refusalOf(error, whatIsWrong);
    if (status >= 500) (request as { log?: { error(e: unknown): void } }).log?.error(withoutData(error));
    const again = error instanceof Refused ? error.againAfter : undefined;
    if (status === 503 || status === 429) response.set('Retry-After', String(again ?? againAfter));
    // Also where a file was asked for.
    response.removeHeader('Content-Disposition');
    response.status(status).type('json').json(refusal);
  };

/** What a log may say of an error: what broke and where, and none of the values that a query carried. */
function withoutData(error: unknown): Record<string, unknown> {
  const { cause, stack = '' } = error as { cause?: unknown; stack?: string };
  const of = (cause ?? error) as Error & {
    code?: string;
    table?: string;
    constraint?: string;
    routine?: string;
  };
  // The message of a failed query repeats it with its values; that of the database names what was wrong.
  const where = stack.split('\n').filter((line) => line.trimStart().startsWith('at '));
  return {
    err: {
      type: of.name,
      code: of.code,
      table: of.table,
      constraint: of.constraint,
      routine: of.routine,
      message: of.code === undefined ? of.message : undefined,
      stack: where.join('\n'),
    },
  };
}

function refusalOf(error: unknown, whatIsWrong: () => string | null): { status: number; refusal: Refusal } {
  if (error instanceof Refused)
    return {
      status: error.status,
      refusal: {
        error: error.message,
        todo: error.todo,
        ...(error instanceof ProveAgain && { again: true }),
      },
    };
  const { type, status, code, cause, message } = error as {
    type?: string;
    status?: number;
    code?: string;
    message?: string;
    cause?: { code?: string; message?: string };
  };
  const unread = unreadable[type ?? ''];
  if (unread && status !== undefined) return { status, refusal: unread };
  if (status === 404)
    return {
      status,
      refusal: { error: 'There is nothing at this address.', todo: 'Check it, or start at /.' },
    };
  if (status !== undefined && status >= 400 && status < 500)
    return {
      status,
      refusal: {
        error:
          error instanceof URIError ? 'The address is not well-formed.' : 'The request could not be read.',
        todo: 'Fix it and send it again; nothing was changed.',
      },
    };
  const failed = code ?? cause?.code ?? '';
  const todo = 'Your entries are safe on this device and will be sent when the server is back.';
  if (full.has(failed))
    return {
      status: 503,
      refusal: { error: whatIsWrong() ?? 'The database cannot write: its disk or its memory is full.', todo },
    };
  const said = `${message ?? ''} ${cause?.message ?? ''}`;
  if (unreachable.has(failed) || broken.test(said))
    return { status: 503, refusal: { error: whatIsWrong() ?? 'The database cannot be reached.', todo } };
  if (overloaded.has(failed) || noneFree.test(said)) {
    const busy = new Busy('The database is busy.');
    return { status: busy.status, refusal: { error: busy.message, todo: busy.todo } };
  }
  return {
    status: 500,
    refusal: { error: 'Something broke on the server.', todo: 'Nothing on your device is lost; try again.' },
  };
}
