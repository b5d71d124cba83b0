import { endpoints } from '@ulkret/contract';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { ApiRefusal, ask } from '../../api/ask';
import { Button } from '../../ui/button';
import { Refused } from '../../ui/states';
import { toast } from '../../ui/toast';
import { many } from '../../ui/words';

/** Takes the breakdowns that ship with the app into the library, also later: what is there already stays as it is. */
export function TakeShipped({ quiet = false }: { quiet?: boolean }) {
  const { mutate } = useSWRConfig();
  const [busy, setBusy] = useState(false);
  const [refusal, setRefusal] = useState<ApiRefusal | null>(null);
  const take = async () => {
    setBusy(true);
    setRefusal(null);
    try {
      const { added, there } = await ask(endpoints.takeShipped);
      await mutate(() => true);
      toast(`${many(added.length, 'breakdown')} added${there > 0 ? `, ${there} already here` : ''}`);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setRefusal(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button $quiet={quiet} isDisabled={busy} onPress={() => void take()}>
        Add the breakdowns that come with Ulkret
      </Button>
      <Refused by={refusal} />
    </>
  );
}
