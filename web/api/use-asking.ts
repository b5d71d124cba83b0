import { useState } from 'react';
import { ApiRefusal } from './ask';

/**
 * Does something that the server has to do, one at a time. Without a network nothing of it waits on the device: what did not
 * happen is said, so that nobody relies on it.
 */
export function useAsking() {
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const [busy, setBusy] = useState(false);
  const asking = async (act: () => Promise<void>, undone: string): Promise<void> => {
    setBusy(true);
    setRefusal(null);
    try {
      await act();
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(
        error.status === 0
          ? new ApiRefusal(0, `${undone} ${error.message}`, 'Check the Wi-Fi and press again.')
          : error,
      );
    } finally {
      setBusy(false);
    }
  };
  return { asking, refusal, busy };
}
