import type { Kit } from '@ulkret/contract';
import type { Technique } from '@ulkret/core/breakdown';
import { activityAt, neutralRules, permitOfPair } from '@ulkret/core/care';
import type { Student } from '@ulkret/core/people';
import type { Rung } from '@ulkret/core/rep';
import { useCallback, useMemo } from 'react';
import { today } from '../device/kit';

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
