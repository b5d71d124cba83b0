import { type Door, type Id, measureWords, numberOf, placeOf } from '../breakdown';
import { byTime, oddMeasuresOf, type Rep } from '../rep';
import { carriedOf } from './carried';
import { likelyOnce } from './doubles';
import { type OpenScene, repWords, type Scene, turnWords } from './mat-scene';
import type { MatState, MatStep, Notice } from './mat-state';
import { saying, turnSet, withBegun } from './mat-steps';
import { testAfter } from './pair-view';
import { type Begun, nothingBegun, repOf, type Tap, tapped, type Tapping } from './tapping';
import { sameTurn, turnOf } from './turn';

/** Two endings of one pair by finger within this many milliseconds are a double tap: nobody does a rep in that time. Common sense. */
export const doubleTapMs = 250;

/** Why a rep of the open pair is not logged; null where it is. */
function refusal({ common }: Scene, { view }: OpenScene): string | null {
  if (common.now.endedAt !== null) return 'Not logged: this class has ended. Reopen it first.';
  if (view.stopped) return 'Not logged: this pair was stopped for safety. Say what happened first.';
  if (view.permit.verdict === 'not allowed')
    return `Not logged: ${view.permit.reasons[0]?.words ?? 'not allowed'}`;
  return null;
}

const meanings: Readonly<Record<Tapping, string>> = {
  stop: 'A tap on a checkpoint is a stop again.',
  forced: 'Forced: tap every checkpoint that failed, then the ring.',
  'not judged': 'Not judged: tap the last checkpoint that held, or the ring if nothing was seen.',
};

/** The pair goes on to another technique; the answer by which it does has worked. */
export function onGoingOn(state: MatState, door: Door, open: OpenScene, scene: Scene): MatStep {
  const begun = state.begun.get(open.view.key) ?? nothingBegun;
  const met = new Map(begun.met);
  if (door.answers !== null) met.set(door.answers, { answer: door.by, worked: true });
  const from = { ...state, begun: withBegun(state, open.view.key, { ...begun, met }) };
  const step = onTap(from, { do: 'leave', heldTo: door.heldTo, by: door.by }, open, scene, false);
  if (step.enter.length === 0) return step;
  const onwards = scene.common.library.get(door.technique)?.technique.name ?? door.technique;
  const words = `${scene.nameOf(open.view.turn.student)} goes on: ${onwards}`;
  return { ...step, state: { ...step.state, said: saying(words, open.view.key) } };
}

/** A tap on the open pair: what it begins, the rep that it ends, and what is said of it. */
export function onTap(state: MatState, tap: Tap, open: OpenScene, scene: Scene, finger: boolean): MatStep {
  const { common, nameOf } = scene;
  const { view } = open;
  const { key, turn } = view;
  const from = state.begun.get(key) ?? nothingBegun;
  const so = tapped(from, tap, open.pair);
  const stay = (said: Notice | null): MatStep => ({ state: { ...state, said }, enter: [] });
  if (so.refused) return stay(saying('The answer failed: tap the checkpoint where it stopped.', key));
  const begun = withBegun(state, key, so.begun);
  if (so.turned)
    return {
      state: { ...state, begun, said: saying(turnWords(nameOf, so.turned), key) },
      enter: [{ is: 'change', set: turnSet(common, view, so.turned) }],
    };
  if (!so.ending)
    return {
      state: { ...state, begun, said: begunWords(from, so.begun, tap, open) ?? state.said },
      enter: [],
    };

  const refused = refusal(scene, open);
  if (refused !== null) return stay(saying(refused, key));
  if (scene.startedOn < common.today && !state.goesOn)
    return {
      state: {
        ...state,
        over: { is: 'earlier day' },
        said: saying('Not logged: this class began on an earlier day.', null),
      },
      enter: [],
    };
  const { ended } = state;
  if (finger && ended?.pair === key && scene.now - ended.at < doubleTapMs)
    return stay(saying('Two taps at once: one rep was logged. Tap again if it was another.', key));
  const logged = {
    ...scene.made(),
    session: scene.session.id,
    observer: scene.coach,
    device: scene.device,
    technique: open.breakdown.technique,
    edition: open.breakdown.edition,
    rung: open.rung,
  };
  const rep = repOf(so.ending, from, open.pair, logged);
  return {
    state: {
      ...state,
      begun,
      ended: finger ? { pair: key, at: scene.now } : null,
      said: afterRep(rep, open, scene),
    },
    enter: [{ is: 'rep', rep }],
    ask:
      rep.outcome === 'stopped' && rep.cause === null
        ? {
            rep: rep.id,
            breakdown: open.breakdown,
            place: placeOf(open.breakdown, rep.stop),
            side: turn.side,
          }
        : null,
  };
}

/** The notice after a step of a rep that has begun. */
function begunWords(before: Begun, after: Begun, tap: Tap, { view, breakdown }: OpenScene): Notice | null {
  const number = (id: Id) => numberOf(breakdown, id);
  if (tap.do === 'mean') return saying(meanings[tap.tapping], view.key);
  if (tap.do === 'soften' && after.soft !== before.soft)
    return saying(
      after.soft.has(tap.checkpoint)
        ? `${number(tap.checkpoint)} is soft in the next rep. No rep was logged.`
        : `${number(tap.checkpoint)} is not soft any more.`,
      view.key,
    );
  if (tap.do === 'knot' && after.failed !== before.failed)
    return saying(
      `${number(tap.checkpoint)} ${after.failed.has(tap.checkpoint) ? 'failed' : 'did not fail'}.`,
      view.key,
      false,
    );
  return null;
}

/** The words about a rep: how it ended, what it decided, and whose turn is next if that changes. */
function afterRep(rep: Rep, open: OpenScene, scene: Scene): Notice {
  const { common, nameOf } = scene;
  const { view } = open;
  const words = [`${nameOf(rep.student)} ${repWords(scene, rep)}.`];
  let loud = false;
  for (const { checkpoint, value, tolerance } of oddMeasuresOf(open.breakdown, rep)) {
    loud = true;
    words.push(
      `${numberOf(open.breakdown, checkpoint)} held with ${measureWords(value, tolerance)}: is that right?`,
    );
  }
  if (view.work?.test.state === 'open' && !view.work.recheck) {
    const { place } = view.work;
    const { state } = testAfter(open.breakdown, view.work, rep);
    if (state !== 'open') {
      loud = true;
      words.push(
        state === 'signed off'
          ? `${place + 1} is signed off.`
          : `${place + 1} is too hard still: one rung down, or an easier drill.`,
      );
    }
  }
  if (open.gone) {
    const back = carriedOf(
      view.members,
      (student) => [...common.log.of(student), ...(student === rep.student ? [rep] : [])].sort(byTime),
      (id) => common.library.get(id)?.breakdown,
    );
    if (!back) {
      loud = true;
      words.push(`Back to ${common.technique.name}.`);
    }
  } else {
    const next = turnOf(
      view.members,
      likelyOnce([...view.reps, rep], common.now.settled),
      common.turning,
      view.own.turn,
      view.own.sides,
    );
    if (!sameTurn(next, view.turn)) {
      loud = true;
      words.push(turnWords(nameOf, next));
    }
  }
  return saying(words.join(' '), view.key, loud);
}
