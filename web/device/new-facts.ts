const name = 'ulkret-facts';

/** Tells every page of this browser that the server has new facts. */
export function tellOfNewFacts(): void {
  if (typeof BroadcastChannel === 'undefined') return;
  const channel = new BroadcastChannel(name);
  channel.postMessage('new');
  channel.close();
}

/** Calls back when some page of this browser has sent facts; the answer stops it. */
export function onNewFacts(callback: () => void): () => void {
  const channel = new BroadcastChannel(name);
  channel.addEventListener('message', callback);
  return () => channel.close();
}
