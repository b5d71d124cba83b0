import { endpoints, type OutputOf } from '@ulkret/contract';
import type { Id } from '@ulkret/core/breakdown';
import { isOpen, type Life, type Prescription, type Step } from '@ulkret/core/prescription';
import { byTime } from '@ulkret/core/rep';
import { type Session, WorksOn } from '@ulkret/core/session';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { uuidv7 } from 'uuidv7';
import { clock } from '../api/clock';
import { useHere } from '../api/signed-in';
import { useApi } from '../api/use-api';
import { waitingSteps } from '../device/entries';
import { useKit } from '../device/kit';
import { onNewFacts } from '../device/new-facts';
import { stamp } from '../device/session-log';
import { useOutbox } from '../device/use-outbox';
import { worksOn } from './works-on';

type Prescriptions = OutputOf<typeof endpoints.prescriptions>;

/** One student's decisions on one technique, as the server and this device know them together. */
export interface Stands {
  life: Life | null;
  /** Refused by a coach: which checkpoint, why, and by whom. */
  declined: { checkpoint: Id; reason: string; by: Id } | null;
  /** The decision of this device that says so; null where the server does. */
  step: Step | null;
}

const keyOf = (student: Id, technique: Id): string => `${technique} ${student}`;

/** A correction from the moment it is accepted, before the server has answered. */
const begun = (step: Step & { does: { is: 'accepted' } }): Life => ({
  id: step.id,
  student: step.student,
  technique: step.technique,
  edition: step.edition,
  by: step.observer,
  since: step.at,
  terms: step.does.terms,
  stood: step.does.stood,
  state: 'accepted',
  held: [],
  signed: [],
  due: null,
  events: [{ at: step.at, by: step.observer, is: 'accepted', words: '' }],
});

/** What the server told, with the decisions that this device has made since: they count at once, with or without a network. */
export function standingOf(
  told: Prescriptions | undefined,
  steps: readonly Step[],
): ReadonlyMap<string, Stands> {
  const stands = new Map<string, Stands>();
  const at = (student: Id, technique: Id): Stands =>
    stands.get(keyOf(student, technique)) ?? { life: null, declined: null, step: null };
  const put = (student: Id, technique: Id, next: Partial<Stands>) =>
    stands.set(keyOf(student, technique), { ...at(student, technique), ...next });
  for (const { life } of told?.prescriptions ?? [])
    if (isOpen(life)) put(life.student, life.technique, { life });
  for (const { student, technique, checkpoint, reason, by } of told?.declined ?? [])
    put(student, technique, { declined: { checkpoint, reason, by } });
  const known = new Set(told?.prescriptions.map(({ life }) => life.id));
  const undone = new Set(steps.flatMap(({ does }) => (does.is === 'undone' ? [does.of] : [])));
  for (const step of [...steps].sort(byTime)) {
    const { does, student, technique, id } = step;
    if (undone.has(id)) {
      const { life } = at(student, technique);
      if (life?.id === id) put(student, technique, { life: null });
      continue;
    }
    if (does.is === 'accepted') {
      const { life } = at(student, technique);
      if (life?.id === id) put(student, technique, { step });
      else if (!known.has(id))
        put(student, technique, {
          life: begun(step as Parameters<typeof begun>[0]),
          declined: null,
          step,
        });
    } else if (does.is === 'edited') {
      const { life } = at(student, technique);
      if (life?.id === does.of) put(student, technique, { life: { ...life, terms: does.terms }, step });
    } else if (does.is === 'declined' || does.is === 'ended' || does.is === 'signed')
      put(student, technique, {
        life: null,
        step,
        ...(does.is === 'declined' && {
          declined: { checkpoint: does.checkpoint, reason: does.reason, by: step.observer },
        }),
      });
  }
  return stands;
}

/** A class that has run for longer was left open. */
const longestClassMs = 12 * 3_600_000;

/** The classes that drill a technique at present. */
const runningOf = (sessions: readonly Session[], technique: Id): Session[] =>
  sessions.filter(
    (session) =>
      session.technique === technique &&
      session.endedAt === null &&
      clock.now() - Date.parse(session.startedAt) < longestClassMs,
  );

/** Corrections that were agreed to, and the way to agree to one: on this device at once, on the server when there is a network. */
export function useDeciding() {
  const { coach, academy } = useHere();
  const outbox = useOutbox();
  const told = useApi(endpoints.prescriptions);
  const [steps, setSteps] = useState<readonly Step[]>([]);
  useEffect(() => {
    void waitingSteps(academy.id).then((kept) =>
      setSteps((own) => [...kept.filter(({ id }) => own.every((one) => one.id !== id)), ...own]),
    );
  }, [academy.id]);
  const { mutate } = told;
  useEffect(() => onNewFacts(() => void mutate()), [mutate]);
  const { data: kit } = useKit();
  const { data: library } = useApi(endpoints.drills);
  /** A running class hears of it: its Mat shows the corrections accepted at set-up. */
  const tellClasses = useCallback(
    (step: Step) => {
      const { student, technique, does, at } = step;
      const { life, declined } = standingOf(told.data, [...steps, step]).get(keyOf(student, technique)) ?? {};
      const breakdown = kit?.techniques.find((one) => one.technique.id === technique)?.breakdown;
      for (const session of breakdown ? runningOf(kit?.sessions ?? [], technique) : []) {
        const before = session.prescribed.find((one) => one.student === student);
        const again = does.is === 'undone' && before?.checkpoint !== declined?.checkpoint ? before : null;
        const on: WorksOn | null = life
          ? { ...worksOn(breakdown!, life.terms, library?.drills ?? [], life), since: at }
          : again
            ? WorksOn.parse(again)
            : null;
        const fact = { id: uuidv7(), session: session.id, at: stamp(), observer: coach.id };
        void outbox.record(session.id, {
          is: 'changes',
          fact: { ...fact, set: { is: 'works', about: student, on } },
        });
      }
    },
    [told.data, steps, kit, library, coach.id, outbox],
  );
  const decide = useCallback(
    (of: Pick<Step, 'student' | 'technique' | 'edition' | 'does'>): Step => {
      const step: Step = { id: uuidv7(), session: null, at: stamp(), observer: coach.id, ...of };
      setSteps((own) => [...own, step]);
      void outbox.record(step.id, { is: 'steps', fact: step });
      tellClasses(step);
      return step;
    },
    [coach.id, outbox, tellClasses],
  );
  const undo = useCallback(
    ({ id, student, technique, edition }: Step) =>
      decide({ student, technique, edition, does: { is: 'undone', of: id } }),
    [decide],
  );
  const standing = useMemo(() => standingOf(told.data, steps), [told.data, steps]);
  return {
    told,
    standing,
    decide,
    undo,
    of: (student: Id, technique: Id): Stands =>
      standing.get(keyOf(student, technique)) ?? { life: null, declined: null, step: null },
    /**
     * The accepted corrections of a student on every technique: the current one as this device knows it, and earlier
     * ones.
     */
    lives: (student: Id): Life[] => [
      ...(told.data?.prescriptions ?? []).flatMap(({ life }) =>
        life.student === student && !isOpen(life) ? [life] : [],
      ),
      ...[...standing.values()].flatMap(({ life }) => (life?.student === student ? [life] : [])),
    ],
  };
}

/** What it is expected to bring in an evening; 0 where nothing is corrected. */
export const worthOf = (prescription: Prescription): number => {
  if (prescription.kind !== 'correct') return 0;
  const [chosen] = prescription.reason.candidates;
  return chosen!.rise;
};
