import type { Kit } from '@ulkret/contract';
import type { Technique } from '@ulkret/core/breakdown';
import { activityAt, type Override, type Permit, permit } from '@ulkret/core/care';
import { namesToldApart, type Student } from '@ulkret/core/people';
import type { Rung } from '@ulkret/core/rep';
import {
  lastClass,
  byHandWords,
  groupsOf,
  inAttireOf,
  overTheCap,
  pairable,
  pairByMass,
  readyPairs,
  reasonKey,
  type Session,
  sessionOf,
  type SetUp,
  settingUp,
  usualSetUp,
} from '@ulkret/core/session';
import { useMemo, useReducer, useState } from 'react';
import { useNavigate } from 'react-router';
import { uuidv7 } from 'uuidv7';
import { clock } from '../../api/clock';
import { useHere } from '../../api/signed-in';
import { rulesOf, today } from '../../device/kit';
import { useOutbox } from '../../device/use-outbox';
import { usePrescribed, useWatched } from '../../reader/use-prescribed';
import { useDecided } from '../../reader/use-reading';
import { shortestReason } from '../pairs/reason';
import { useEarlier } from '../pairs/use-earlier';
import { asDoneBy, usePairPermit } from '../pairs/pair-permit';
import { guestNamed, useKeepGuest } from '../pairs/use-guest';

/** The technique that a set-up begins with: the one of the last class, or else a submission that everybody here may drill. */
function firstOf(kit: Kit) {
  const { techniques, sessions, students, notes } = kit;
  const circumstances = { rules: rulesOf(kit), today: today(), notes };
  const submissions = techniques.filter(({ technique }) => technique.kind === 'submission');
  const activity = activityAt(usualSetUp('').rung);
  const verdicts = (technique: Technique) =>
    students.map((one) => permit(one, null, technique, activity, circumstances).verdict);
  return (
    techniques.find(({ technique }) => technique.id === lastClass(sessions)?.technique) ??
    submissions.find(({ technique }) => verdicts(technique).every((one) => one === 'allowed')) ??
    submissions.find(({ technique }) => !verdicts(technique).includes('not allowed')) ??
    submissions[0] ??
    techniques[0]!
  );
}

/** Students here who may work with nobody else here, with the reason. */
const unpairableAmong = (
  here: readonly string[],
  paired: ReadonlySet<string>,
  permitOf: (pair: readonly string[]) => Permit | null,
): { id: string; why: string }[] =>
  here.flatMap((id) => {
    if (paired.has(id) || here.length < 2) return [];
    const refusals = here
      .filter((other) => other !== id)
      .map((other) => permitOf([id, other]))
      .filter((one) => one?.verdict === 'not allowed');
    const why = refusals[0]?.reasons[0]?.words;
    return refusals.length === here.length - 1 && why ? [{ id, why }] : [];
  });

/** The coach's reasons for the pairs that the rules refuse, as overrides. */
function* overridesOf(
  kit: Kit,
  {
    going,
    chosen: { technique, breakdown },
    rung,
    people,
    reasonFor,
  }: {
    going: readonly (readonly string[])[];
    chosen: Kit['techniques'][number];
    rung: Rung;
    people: ReadonlyMap<string, Student>;
    reasonFor: (pair: readonly string[]) => string;
  },
): Generator<Pick<Override, 'student' | 'partner' | 'technique' | 'reason'>> {
  const circumstances = { rules: rulesOf(kit), today: today(), notes: kit.notes };
  for (const pair of going) {
    const reason = reasonFor(pair);
    if (!reason || pair.length < 2) continue;
    for (const [i, student] of pair.entries()) {
      const partner = pair[(i + 1) % pair.length]!;
      const [one, other] = [people.get(student)!, people.get(partner)!];
      const done = asDoneBy(technique, breakdown)(one, other);
      const asked = permit(one, other, done, activityAt(rung), circumstances);
      if (asked.verdict === 'not allowed' && asked.overridable)
        yield { student, partner, technique: technique.id, reason };
    }
  }
}

/** A class while it is set up: what is chosen, what the rules refuse, and the way to the Mat. `settingUp` decides what a step does. */
export function useSetUp(kit: Kit) {
  const navigate = useNavigate();
  const outbox = useOutbox();
  const { coach } = useHere();
  const keepGuest = useKeepGuest();
  const [first] = useState(() => firstOf(kit));
  const [setUp, step] = useReducer(settingUp, first.technique.id, usualSetUp);
  const [guests, setGuests] = useState<readonly Student[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [pairedOnce, setPairedOnce] = useState(false);

  const roster = useMemo(() => {
    const known = new Set(kit.students.map(({ id }) => id));
    return [
      ...kit.students.filter(({ archived }) => !archived),
      ...guests.filter(({ id }) => !known.has(id)),
    ];
  }, [kit.students, guests]);
  const people = useMemo(() => new Map(roster.map((one) => [one.id, one])), [roster]);
  const names = useMemo(() => namesToldApart(roster), [roster]);
  const chosen = kit.techniques.find(({ technique }) => technique.id === setUp.technique) ?? first;
  const { breakdown } = chosen;
  const technique = inAttireOf(chosen.technique, setUp);
  const prescribed = usePrescribed(technique.id);
  const watched = useWatched(technique.id);
  const { data: decided, error: undecided } = useDecided(technique.id);
  const permitOf = usePairPermit(kit, people, { technique, breakdown }, setUp.rung);
  const library = useMemo(() => new Map(kit.techniques.map((one) => [one.technique.id, one])), [kit]);
  const earlier = useEarlier(null, library);
  const here = roster.filter(({ id }) => setUp.present.includes(id)).map(({ id }) => id);
  const ready = readyPairs(setUp, (id) => people.get(id));
  const reasonFor = (pair: readonly string[]) => (setUp.reasons[reasonKey(pair)] ?? '').trim();
  /** Pairs that may not drill like this, and for whom no coach has said why they may: the others start without them. */
  const held = ready.filter((pair) => {
    const permitted = permitOf(pair);
    return (
      permitted?.verdict === 'not allowed' &&
      !(permitted.overridable && reasonFor(pair).length >= shortestReason)
    );
  });

  const going = ready.filter((pair) => !held.includes(pair));
  const session = sessionOf(setUp, breakdown, { id: '', startedAt: '', pairs: going, prescribed, watched });
  /** Pairs that the dose may take past a cap of today, and the dose that does not. */
  const loads = setUp.span !== 'entry' && setUp.turns === 'reps';
  const tooMuch = loads
    ? going.flatMap(
        (pair) => overTheCap(pair, setUp.repsPerSide, technique, setUp.rung, rulesOf(kit), earlier) ?? [],
      )
    : [];
  const groups = groupsOf({ ...setUp, present: here });
  /** Whom the arithmetic has left to be paired by hand, once it was asked. */
  const byHand = pairedOnce
    ? groups.waiting.flatMap((id) => {
        const one = people.get(id);
        return one ? [byHandWords(one, today())] : [];
      })
    : [];
  const paired = new Set(setUp.pairs.flat());
  const unpairable = unpairableAmong(here, paired, permitOf);

  const pairThem = (free: readonly string[]) => {
    const may = (a: string, b: string) => permitOf([a, b])?.verdict !== 'not allowed';
    const { pairs } = pairByMass(
      free.map((id) => people.get(id)!),
      (a, b) => may(a, b) && pairable(people.get(a), people.get(b), today()),
    );
    step({ do: 'group', changes: pairs.map((pair) => ({ is: 'together', pair })) });
    setPairedOnce(true);
  };
  const repeat = (before: Session) =>
    step({
      do: 'repeat',
      session: before,
      known: {
        people: new Set(people.keys()),
        techniques: new Set(kit.techniques.map((one) => one.technique.id)),
      },
    });
  const addGuest = async (name: string) => {
    const guest = guestNamed(name);
    setGuests((before) => [...before, guest]);
    step({ do: 'comes', id: guest.id });
    try {
      await keepGuest(guest);
    } catch {
      setGuests((before) => before.filter((one) => one !== guest));
      step({ do: 'goes', id: guest.id });
      setTrouble('This device is full or blocked: the guest was not saved. Free some space first.');
    }
  };

  const begin = async () => {
    const id = uuidv7();
    try {
      await outbox.keepSession({ ...session, id, startedAt: clock.stamp() });
    } catch {
      setTrouble('Not saved: this device’s storage is full or blocked. Free some space, then start again.');
      return;
    }
    for (const fact of overridesOf(kit, { going, chosen, rung: setUp.rung, people, reasonFor }))
      await outbox.record(id, {
        is: 'overrides',
        fact: { ...fact, id: uuidv7(), session: id, at: clock.stamp(), observer: coach.id },
      });
    await navigate(`/mat/${id}`);
  };

  return {
    setUp,
    step,
    set: (to: Partial<Omit<SetUp, 'present' | 'pairs' | 'reasons'>>) => step({ do: 'set', to }),
    last: lastClass(kit.sessions),
    chosen,
    roster,
    here,
    held: held.map((pair) => ({ pair, why: permitOf(pair)?.reasons[0]?.words ?? '' })),
    unpairable,
    going,
    groups,
    tooMuch,
    byHand,
    trouble,
    prescribed: session.prescribed,
    /** What to correct is still on its way: a class that starts now goes without. */
    deciding: !decided && !undecided,
    permitOf,
    nameOf: (id: string) => names.get(id) ?? id,
    pairThem,
    repeat,
    addGuest,
    begin,
  };
}
