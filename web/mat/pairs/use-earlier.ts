import { endpoints } from '@ulkret/contract';
import { mergeFacts, type RepFacts, standing } from '@ulkret/core/facts';
import type { Editions } from '@ulkret/core/care';
import { type Earlier, earlierToday, nothingEarlier } from '@ulkret/core/session';
import { useEffect, useMemo, useState } from 'react';
import { useHere } from '../../api/signed-in';
import { useApi } from '../../api/use-api';
import { keptRepsOfOthers } from '../../device/entries';
import { today } from '../../device/kit';
import { dateOf } from '../../ui/zone';

const askAgainMs = 60_000;

/**
 * What classes other than this one have loaded today, from the server and from what this device has of them: a cap counts the day of a person
 * and does not start again with each class.
 */
export function useEarlier(session: string | null, library: Editions): Earlier {
  const { academy } = useHere();
  const { data } = useApi(endpoints.dayReps, {}, { refreshInterval: askAgainMs });
  const [kept, setKept] = useState<RepFacts | null>(null);
  useEffect(() => {
    void keptRepsOfOthers(academy.id, session)
      .then(setKept)
      .catch(() => setKept(null));
  }, [academy.id, session, data]);
  return useMemo(() => {
    const none: RepFacts = { reps: [], voids: [], tags: [] };
    const facts = mergeFacts(data ? { ...data, tags: [] } : none, kept ?? none);
    const day = today();
    const reps = standing(facts).filter(
      (rep) => rep.session !== session && dateOf(Date.parse(rep.at)) === day,
    );
    return reps.length === 0 ? nothingEarlier : earlierToday(reps, library);
  }, [data, kept, session, library]);
}
