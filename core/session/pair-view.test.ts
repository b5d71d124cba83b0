import { describe, expect, test } from '@jest/globals';
import { neutralRules } from '../care';
import { type SomeFacts, SessionLog } from '../facts';
import { Student } from '../people';
import { aRep, factId, plainBreakdown, plainTechnique as technique } from '../test';
import { capsOfTurn, type Common, nothingEarlier, PairViews, Session, sessionNow } from '.';

const start = '2026-03-05T18:00:00.000Z';
const later = (seconds: number) => new Date(Date.parse(start) + seconds * 1000).toISOString();
const breakdown = plainBreakdown(5);
const student = (id: string, fields: Partial<Student> = {}) =>
  Student.parse({
    id,
    name: id,
    born: '1990-01-01',
    mainSide: 'right',
    experienceMonths: 40,
    statureCm: null,
    massKg: 70,
    armSpanCm: null,
    neckGirthCm: null,
    chestGirthCm: null,
    hipMobility: null,
    injuries: [],
    archived: false,
    ...fields,
  });
const session = Session.parse({
  id: factId(900),
  technique: 'test-lock',
  edition: 1,
  startedAt: start,
  endedAt: null,
  rounds: 3,
  pairs: [
    ['ada', 'ben'],
    ['cleo', 'dan'],
  ],
  rung: 2,
  from: null,
  to: null,
  repsPerSide: 3,
  roundSeconds: 300,
  prescribed: [{ student: 'ada', checkpoint: 'c3', rung: 2 }],
});

let n = 1000;
const told = (seconds: number) => ({
  id: factId(n++),
  session: session.id,
  at: later(seconds),
  observer: 'coach',
});
const rep = (seconds: number, fields: Parameters<typeof aRep>[0] = {}) =>
  aRep({ ...told(seconds), ...fields });

/** A session's log with what is needed to see its pairs. */
function opened(people = ['ada', 'ben', 'cleo', 'dan'].map((id) => student(id))) {
  const log = new SessionLog();
  const students = new Map(people.map((one) => [one.id, one]));
  const views = new PairViews();
  // What stays the same object on the screen stays it here.
  const [span, none] = [{ id: session.id, from: null, to: null, attire: null }, []];
  const turning = { repsPerSide: 3 };
  const library = new Map();
  const common = (fields: Partial<Common> = {}): Common => ({
    log: log.standing(),
    now: sessionNow(session, log.standing().changes),
    breakdown,
    technique,
    library,
    students,
    session: span,
    rules: neutralRules,
    units: 'kg and cm',
    today: '2026-03-05',
    earlierNotes: none,
    earlier: nothingEarlier,
    turning,
    ...fields,
  });
  const look = (fields?: Partial<Common>) => {
    const seen = common(fields);
    return views.all(seen);
  };
  return { common, look, add: (facts: SomeFacts) => log.add(facts) };
}

describe('what is seen of a pair', () => {
  test('before the first rep is who begins, on which side, and what they work on', () => {
    const [one, two] = opened().look();
    expect(one!.turn).toEqual({ student: 'ada', partner: 'ben', side: 'right', done: 0 });
    expect(one!.permit.verdict).toBe('allowed');
    expect(one!.work).toMatchObject({ place: 2, rung: 2, test: { state: 'open', seen: 0 } });
    expect(two!.work).toBeNull();
    expect(one!.stopped).toBeNull();
  });

  test('follows each rep: the count, the side, the roles, the test, and what the partner bears', () => {
    const { look, add } = opened();
    add({ reps: [rep(1), rep(2, { stop: 'c3' }), rep(3, { stop: 'c1' })] });
    const [view] = look();
    expect(view!.turn).toEqual({ student: 'ada', partner: 'ben', side: 'left', done: 0 });
    expect(view!.work!.test.seen).toBe(2);
    expect(view!.caps).toEqual([
      { counts: 'finishes on the shoulder', whom: 'partner', spent: 1, cap: neutralRules.caps.joint },
    ]);
    add({ reps: [4, 5, 6].map((at) => rep(at, { side: 'left' })) });
    expect(look()[0]!.turn).toEqual({ student: 'ben', partner: 'ada', side: 'right', done: 0 });
    expect(look()[0]!.work).toBeNull();
  });

  test('stays the same object while nothing of that pair has happened', () => {
    const { look, add } = opened();
    add({ reps: [rep(1)] });
    const before = look();
    add({ reps: [rep(2, { student: 'cleo', partner: 'dan' })] });
    const after = look();
    expect(after[0]).toBe(before[0]);
    expect(after[1]).not.toBe(before[1]);
    add({ changes: [{ ...told(9), set: { is: 'rung', pair: null, rung: 3 } }] });
    expect(look()[0]).not.toBe(after[0]);
  });

  test('waits after a stop for safety until it is said what went wrong; only pain keeps somebody off', () => {
    const { look, add } = opened();
    const note = {
      ...told(10),
      person: 'ben',
      why: 'not said' as const,
      regions: [],
      side: null,
      until: '2026-03-05',
      words: '',
      replaces: null,
    };
    add({ notes: [note] });
    expect(look()[0]!.stopped).toEqual(note);
    expect(look()[0]!.permit.verdict).toBe('allowed');
    // A new round does not answer it.
    const clock = { round: 2, ranMs: 0, since: later(400) };
    add({ changes: [{ ...told(400), set: { is: 'clock', clock } }] });
    expect(look()[0]!.stopped).toEqual(note);
    add({ notes: [{ ...note, ...told(11), why: 'hard tap', replaces: note.id }] });
    expect(look()[0]!).toMatchObject({ stopped: null, permit: { verdict: 'allowed' } });
    add({ notes: [{ ...note, ...told(12), why: 'pain', regions: ['shoulder'], replaces: told(11).id }] });
    expect(look()[0]!).toMatchObject({ stopped: null, permit: { verdict: 'not allowed' } });
    add({ notes: [{ ...note, ...told(13), why: 'dizzy', replaces: told(12).id }] });
    expect(look()[0]!.permit).toMatchObject({ verdict: 'not allowed', overridable: false });
  });

  test('takes its turn from what a coach has set', () => {
    const { look, add } = opened();
    add({ reps: [rep(1)] });
    const before = look();
    const turn = { student: 'ben', partner: 'ada', side: 'left', during: null } as const;
    add({ changes: [{ ...told(300), set: { is: 'turn', pair: ['ada', 'ben'], ...turn } }] });
    expect(look()[0]!.turn).toEqual({ student: 'ben', partner: 'ada', side: 'left', done: 0 });
    expect(look()[1]).toBe(before[1]);
  });

  test('counts nothing against a partner where the span stops before the finish', () => {
    const { look, add } = opened();
    add({ reps: [rep(1)] });
    const pair = ['ada', 'ben'];
    add({ changes: [{ ...told(5), set: { is: 'span', pair, from: null, to: 'c4' } }] });
    expect(look()[0]).toMatchObject({ caps: [], span: { from: null, to: 'c4' } });
  });

  test('takes a word of care for a minor, and a refusal for an injury', () => {
    const young = student('ada', { born: '2012-01-01' });
    const hurt = student('ben', {
      injuries: [{ region: 'shoulder', side: null, until: '2026-04-01', note: 'sore' }],
    });
    const { look } = opened([young, hurt, student('cleo'), student('dan')]);
    const [view] = look();
    expect(view!.permit.verdict).toBe('not allowed');
    expect(view!.permit.overridable).toBe(false);
  });

  test('knows nobody’s caps where there is no partner', () => {
    expect(capsOfTurn(opened().common(), { student: 'ada', partner: null }, 2)).toEqual([]);
  });
});
