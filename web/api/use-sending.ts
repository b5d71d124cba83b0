import { useState } from 'react';
import { ApiRefusal } from './ask';

/** What is on its way: in words, how much of it has gone, from 0 to 1, and how it is stopped. */
export interface Sending {
  says: string;
  share: number;
  stop(): void;
}

/** For the sender: reports progress, and hears a stop. */
export interface Ways {
  onProgress(share: number): void;
  signal: AbortSignal;
}

/**
 * Sends something that takes its time, one at a time. The answer is null where it was stopped or refused; a refusal is kept to be
 * shown, so that it can be tried again.
 */
export function useSending() {
  const [busy, setBusy] = useState<Sending | null>(null);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const sending = async <T>(says: string, task: (ways: Ways) => Promise<T>): Promise<T | null> => {
    const controller = new AbortController();
    const { signal } = controller;
    setBusy({ says, share: 0, stop: () => controller.abort() });
    setRefusal(null);
    try {
      return await task({ signal, onProgress: (share) => setBusy((one) => one && { ...one, share }) });
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      if (!signal.aborted) setRefusal(error);
      return null;
    } finally {
      setBusy(null);
    }
  };
  return { busy, refusal, sending };
}
