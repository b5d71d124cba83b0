import { pipeline, type Readable } from 'node:stream';
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib';
import { type FileType, interimStatus } from '@ulkret/contract';
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
  // The reader hears of an upload that breaks off.
  return pipeline(request, unpack(), () => undefined);
}

/** An uploaded file, in parts as it comes; reading slowly slows the sender down. Throws a refusal if it breaks off. */
export async function* partsOf(request: Request, type: FileType): AsyncGenerator<Uint8Array> {
  if (!request.is(type))
    throw new Refused(415, `The file is not marked as ${type}.`, `Send it as ${type}; nothing was saved.`);
  let bytes = 0;
  try {
    // A reader that stops early still answers.
    for await (const part of unpacked(request).iterator({ destroyOnReturn: false })) {
      bytes += (part as Uint8Array).length;
      if (bytes > mostBytes)
        throw new Refused(
          413,
          'The file is larger than 256 MB.',
          'Send smaller files; what was read so far is saved, and skipped the next time.',
        );
      yield part as Uint8Array;
      // Much of it may already be buffered here: a client that left is noticed only by writing to it. Only a client that asks
      // for it gets an interim status: a plain one would take it for the answer.
      if (request.get('prefer') === interimStatus && !request.res?.headersSent)
        request.res?.writeProcessing();
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
