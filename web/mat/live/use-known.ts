import { namesToldApart } from '@ulkret/core/people';
import { useCallback, useMemo } from 'react';
import { useHere } from '../../api/signed-in';
import { today } from '../../device/kit';
import { useEarlier } from '../pairs/use-earlier';
import type { Opened } from '../OfSession';
import type { MatContext } from './mat-store';

/** What the Mat knows of the people, the library, the rules and the day. */
export function useKnown({
  work,
  breakdown,
  technique,
  library,
  students,
  notes,
  rules,
  coaches,
}: Opened): MatContext {
  const { coach, academy } = useHere();
  const people = useMemo(() => new Map(students.map((one) => [one.id, one])), [students]);
  const names = useMemo(() => namesToldApart(students), [students]);
  const nameOf = useCallback((id: string) => names.get(id) ?? id, [names]);
  const observerName = useCallback((one: string) => coaches.get(one) ?? one, [coaches]);
  const { session } = work;
  const { id, from, to, attire } = session;
  const settings = useMemo(() => ({ id, from, to, attire: attire ?? null }), [id, from, to, attire]);
  const earlier = useEarlier(id, library);
  const day = today();
  return useMemo(
    () => ({
      breakdown,
      technique,
      library,
      students: people,
      session: settings,
      rules,
      today: day,
      earlierNotes: notes,
      earlier,
      coach: coach.id,
      nameOf,
      observerName,
      units: academy.units,
    }),
    [
      breakdown,
      technique,
      library,
      people,
      settings,
      rules,
      day,
      notes,
      earlier,
      coach.id,
      nameOf,
      observerName,
      academy.units,
    ],
  );
}
