import { endpoints, LiveFacts } from '@ulkret/contract';

type Listener = (facts: LiveFacts | null) => void;

const listeners = new Set<Listener>();
let source: EventSource | null = null;

/**
 * Calls back with what other devices sent, as the server gets it, and with null when some of it may have been missed: after
 * the stream was away. One stream serves the page; the answer ends the listening.
 */
export function onLive(listener: Listener): () => void {
  listeners.add(listener);
  if (!source && typeof EventSource !== 'undefined') open();
  return () => {
    listeners.delete(listener);
    if (listeners.size > 0) return;
    source?.close();
    source = null;
  };
}

const tell: Listener = (facts) => {
  for (const listener of listeners) listener(facts);
};

function open(): void {
  source = new EventSource(endpoints.live.path);
  // The first opening and every one after a gap: whatever came in between is asked for.
  source.addEventListener('open', () => tell(null));
  source.addEventListener('all', () => tell(null));
  source.addEventListener('facts', ({ data }: MessageEvent<string>) => {
    const read = LiveFacts.safeParse(JSON.parse(data));
    tell(read.success ? read.data : null);
  });
}
