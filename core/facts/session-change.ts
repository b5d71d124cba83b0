import { later } from '../rep';
import { peopleIn, renamedSetting, SessionChange } from '../session';
import { factKind, momentOf, stranger } from './kind';

export const changes = factKind({
  is: 'change',
  name: 'A change of a class',
  says: 'what changed in a running class: who works with whom, who came or went home, a rung, the sides, a span, whose turn it is, a pair’s variants, what a partner plays, the return from a switch, the clock, words about somebody, its end',
  schema: SessionChange,
  under: 'session',
  people: ({ set }) => peopleIn(set),
  renamed: (change, from, to) => ({ ...change, set: renamedSetting(change.set, from, to) }),
  erased(change, person) {
    const { set } = change;
    if (!('about' in set) || set.about !== person) return change;
    if (set.is === 'words') return null;
    return set.is === 'works' && set.on ? { ...change, set: { ...set, on: { ...set.on, cue: '' } } } : change;
  },
  tells: {
    title: 'Words after a class',
    columns: ['When', 'By', 'Words'],
    // Everything else that changes in a class is about a pair, and so about somebody else too.
    row: (change, person, { coach }) =>
      change.set.is === 'words' && change.set.about === person
        ? [momentOf(change), coach(change.observer), change.set.words]
        : null,
  },
  faultOf(change, known) {
    const unknown = stranger(known, peopleIn(change.set));
    return unknown && `pairs: ${unknown}`;
  },
  moved(change, ms) {
    const { set } = change;
    if (set.is !== 'clock' || set.clock.since === null) return change;
    return { ...change, set: { ...set, clock: { ...set.clock, since: later(set.clock.since, ms) } } };
  },
});
