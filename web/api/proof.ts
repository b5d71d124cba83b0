/** Asks the user to prove again who they are; true once they have. It is set where the app is shown. */
let asker: (() => Promise<boolean>) | null = null;

export function onProofWanted(ask: () => Promise<boolean>): () => void {
  asker = ask;
  return () => {
    if (asker === ask) asker = null;
  };
}

export const proveAgain = (): Promise<boolean> => asker?.() ?? Promise.resolve(false);
