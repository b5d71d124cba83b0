import type { Id } from '../breakdown';
import type { Session, Setting } from './session';

/** The people that a change of a class names. */
export function peopleIn(set: Setting): readonly Id[] {
  if ('pairs' in set) return set.pairs.flat();
  if ('about' in set) return [set.about];
  const turn = set.is === 'turn' ? [set.student, set.partner].filter((id) => id !== null) : [];
  return [...new Set([...('pair' in set ? (set.pair ?? []) : []), ...turn])];
}

/** A change of a class with another id in the place of a person's. */
export function renamedSetting(set: Setting, from: Id, to: Id): Setting {
  const one = (id: Id): Id => (id === from ? to : id);
  if ('pairs' in set) return { ...set, pairs: set.pairs.map((pair) => pair.map(one)) };
  if ('about' in set) return { ...set, about: one(set.about) };
  if (set.is === 'turn')
    return {
      ...set,
      pair: set.pair.map(one),
      student: one(set.student),
      partner: set.partner && one(set.partner),
    };
  return 'pair' in set ? ({ ...set, pair: set.pair && set.pair.map(one) } as Setting) : set;
}

/** A class, as it was set up, without what was written for one person: they are erased. */
export const withoutWordsFor = (session: Session, person: Id): Session => ({
  ...session,
  prescribed: session.prescribed.map((work) => (work.student === person ? { ...work, cue: '' } : work)),
});

/** A class, as it was set up, with another id in the place of a person's. */
export function renamedInSession(session: Session, from: Id, to: Id): Session {
  const one = (id: Id): Id => (id === from ? to : id);
  return {
    ...session,
    pairs: session.pairs.map((pair) => pair.map(one)),
    prescribed: session.prescribed.map((work) => ({ ...work, student: one(work.student) })),
    watched: session.watched.map((work) => ({ ...work, student: one(work.student) })),
  };
}
