/** A message shown for a moment after an action. */
export interface ToastMessage {
  words: string;
  /** Takes back what was done, and throws where that is refused; null where there is no way back. */
  undo: (() => unknown) | null;
}

/** Said and not shown yet: where it is shown is loaded with the first one. */
export const said: ToastMessage[] = [];
export const toastSaid = 'ulkret-toast';

/** Says what was done, with a way to take it back where there is one. */
export function toast(words: string, undo: ToastMessage['undo'] = null): void {
  said.push({ words, undo });
  window.dispatchEvent(new Event(toastSaid));
}
