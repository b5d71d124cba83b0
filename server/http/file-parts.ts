import { pipeline, type Readable } from 'node:stream';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import type { FileType } from '@ulkret/contract';
import type { Request } from 'express';
import { Refused } from '../refused';

/** More than any academy has; what is packed counts unpacked. */
const mostBytes = 256 * 1024 * 1024;

const unpackers = { gzip: createGunzip, deflate: createInflate, br: createBrotliDecompress } as const;

function unpacked(request: Request): Readable {
  const encoding = request.headers['content-encoding'] ?? 'identity';
  if (encoding === 'identity') return request;
  const unpack = unpackers[encoding as keyof typeof unpackers] as
    (() => ReturnType<typeof createGunzip>) | undefined;
  if (!unpack)
    throw new Refused(
      415,
      'The file’s compression is not supported.',
      'Send it uncompressed or as gzip; nothing was saved.',
    );
  // Whoever reads it hears of what breaks on the way.
  return pipeline(request, unpack(), () => undefined);
}

/** A file that is sent, in parts as it comes: whoever sends it waits while they are read. Throws a refusal where it breaks off. */
export async function* partsOf(request: Request, type: FileType): AsyncGenerator<Uint8Array> {
  if (!request.is(type))
    throw new Refused(415, `The file is not marked as ${type}.`, `Send it as ${type}; nothing was saved.`);
  let bytes = 0;
  try {
    // Whoever stops reading still answers.
    for await (const part of unpacked(request).iterator({ destroyOnReturn: false })) {
      bytes += (part as Uint8Array).length;
      if (bytes > mostBytes)
        throw new Refused(
          413,
          'The file is larger than 256 MB.',
          'Send smaller files; what was read so far is saved, and skipped the next time.',
        );
      yield part as Uint8Array;
      // Much of it may lie here already while it is read: whoever has left is noticed only where something is said to them.
      if (request.httpVersion !== '1.0' && !request.res?.headersSent) request.res?.writeProcessing();
    }
  } catch (error) {
    if (error instanceof Refused) throw error;
    throw new Refused(
      400,
      'The upload broke off.',
      'Send it again: what was read so far is saved, and skipped this time.',
    );
  }
}
