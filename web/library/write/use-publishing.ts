import { endpoints } from '@ulkret/contract';
import type { Breakdown } from '@ulkret/core/breakdown';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { ApiRefusal, ask } from '../../api/ask';
import { toast } from '../../ui/toast';
import type { DraftState } from './use-draft';

/** Publishing a draft, or discarding it. `over` is an edition published since the draft was started, once the coach knows of it. */
export function usePublishing(state: DraftState, latest: Breakdown | undefined) {
  const { work } = state;
  const navigate = useNavigate();
  const [trouble, setTrouble] = useState<ApiRefusal | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const publish = async () => {
    setTrouble(null);
    const revision = await state.save();
    if (revision === null) return;
    try {
      await ask(endpoints.publish, {
        params: { id: work.technique.id },
        body: { revision, ...(over !== null && { over }) },
      });
      state.forget();
      await state.refreshLists();
      await navigate(`/library/${work.technique.id}`);
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      setTrouble(error);
      // Another edition may have come in: what it is has to be known before this one follows it.
      if (error.status === 409) {
        const { editions } = await ask(endpoints.technique, { params: { id: work.technique.id } });
        setOver(editions.at(-1)?.edition ?? null);
        await state.refreshLists();
      }
    }
  };
  const discard = async () => {
    const { technique, draft } = work;
    const { id } = technique;
    setTrouble(null);
    try {
      await ask(endpoints.discardDraft, { params: { id } });
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      return setTrouble(error);
    }
    state.forget();
    // The lists follow: on a slow line nobody waits for them here.
    const lists = state.refreshLists();
    const back = async () => {
      // One that was never published went with its draft.
      if (!latest) await ask(endpoints.addTechnique, { body: technique });
      await ask(endpoints.saveDraft, {
        params: { id },
        body: {
          revision: latest ? 0 : 1,
          edition: latest?.edition ?? 0,
          edits: [{ path: [], value: { technique, draft } }],
        },
      });
      await state.refreshLists();
      await navigate(`/library/${id}?edit=1`);
    };
    toast(`Draft of ${technique.name || 'the technique'} discarded`, back);
    await navigate(latest ? `/library/${work.technique.id}` : '/library');
    await lists;
  };
  return { trouble, over, publish, discard };
}
