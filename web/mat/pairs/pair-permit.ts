import type { Kit } from '@ulkret/contract';
import type { Breakdown, Technique } from '@ulkret/core/breakdown';
import { activityAt, permitOfPair, withWays } from '@ulkret/core/care';
import type { Student } from '@ulkret/core/people';
import type { Rung } from '@ulkret/core/rep';
import { pairingOf, variantsFor } from '@ulkret/core/variants';
import { useCallback, useMemo } from 'react';
import { useHere } from '../../api/signed-in';
import { rulesOf, today } from '../../device/kit';

/** A technique as two people do it before anything is chosen: in the ways that their bodies decide. */
export const asDoneBy =
  (technique: Technique, breakdown: Breakdown) =>
  (student: Student, partner: Student | null): Technique =>
    withWays(
      technique,
      variantsFor(breakdown, pairingOf(technique, student, partner)).map(({ variant }) => variant),
    );

/** May a pair do a technique at a rung, in every turn of it? Null before the technique is known. */
export function usePairPermit(
  kit: Pick<Kit, 'notes' | 'rules'>,
  people: ReadonlyMap<string, Student>,
  { technique, breakdown }: { technique: Technique; breakdown: Breakdown },
  rung: Rung,
) {
  const { units } = useHere().academy;
  const circumstances = useMemo(
    () => ({ rules: rulesOf(kit), today: today(), notes: kit.notes, units }),
    [kit, units],
  );
  return useCallback(
    (pair: readonly string[]) => {
      const members = pair.flatMap((id) => people.get(id) ?? []);
      return members.length > 0
        ? permitOfPair(members, asDoneBy(technique, breakdown), activityAt(rung), circumstances)
        : null;
    },
    [people, technique, breakdown, rung, circumstances],
  );
}
