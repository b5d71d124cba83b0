import { endpoints, type Kit } from '@ulkret/contract';
import { neutralRules, permitOfPair, activityAt } from '@ulkret/core/care';
import type { Technique } from '@ulkret/core/breakdown';
import type { Student } from '@ulkret/core/people';
import type { Rung } from '@ulkret/core/rep';
import { useCallback, useMemo } from 'react';
import { clock } from '../offline/clock';
import { useApi } from '../shell/api';

/** What the Mat needs, from the server or from this device. */
export const useKit = () => useApi(endpoints.kit, {}, { revalidateOnFocus: false });

/** Today's date where the coach is. */
export function today(): string {
  const at = new Date(clock.now());
  const two = (n: number) => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}

/** May a pair do a technique at a rung, in every turn of it? Null before the technique is known. */
export function usePairPermit(
  kit: Pick<Kit, 'notes'>,
  people: ReadonlyMap<string, Student>,
  technique: Technique | undefined,
  rung: Rung,
) {
  const circumstances = useMemo(
    () => ({ rules: neutralRules, today: today(), notes: kit.notes }),
    [kit.notes],
  );
  return useCallback(
    (pair: readonly string[]) => {
      const members = pair.flatMap((id) => people.get(id) ?? []);
      return technique && members.length > 0
        ? permitOfPair(members, technique, activityAt(rung), circumstances)
        : null;
    },
    [people, technique, rung, circumstances],
  );
}
