let worker: Worker | undefined;

/** The one thread that reads for all pages: started when the first of them begins to load, since it takes a moment to be up. */
export const readerWorker = (): Worker =>
  (worker ??= new Worker(new URL('./reader.ts', import.meta.url), { type: 'module' }));
