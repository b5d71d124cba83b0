const unseenMs = 100;
const waiting = new Set<() => void>();
let asked = false;
let unseen: ReturnType<typeof setTimeout>;

/** Runs something once what is on its way to the screen is there, together with all else that waits. The answer calls it off. */
export function afterPaint(task: () => void): () => void {
  waiting.add(task);
  if (!asked) {
    asked = true;
    if (typeof requestAnimationFrame === 'undefined') queueMicrotask(runWaiting);
    else requestAnimationFrame(() => setTimeout(runWaiting));
    // A page that is not seen draws no frame.
    unseen = setTimeout(runWaiting, unseenMs);
  }
  return () => void waiting.delete(task);
}

function runWaiting(): void {
  clearTimeout(unseen);
  const tasks = [...waiting];
  waiting.clear();
  asked = false;
  for (const task of tasks) task();
}
