import { describe, expect, test } from '@jest/globals';
import { factId, plainBreakdown } from '../test';
import { lastGripOf, Session, sessionOf, settingUp, type SetUp, startOf, usualSetUp } from '.';

const breakdown = plainBreakdown(5);
const start = usualSetUp('test-lock');
const people = (...ids: string[]): SetUp => settingUp(start, { do: 'present', ids });
const made = { id: factId(9), startedAt: '2026-03-05T18:00:00.000Z', prescribed: [], watched: [] };

describe('a session that is set up', () => {
  test('keeps pairs of those who are still here, and lets a pair go of which one has gone', () => {
    const paired = settingUp(people('ada', 'ben', 'cleo', 'dan', 'eve'), {
      do: 'group',
      changes: [
        { is: 'together', pair: ['ada', 'ben'] },
        { is: 'together', pair: ['cleo', 'dan', 'eve'] },
      ],
    });
    const left = settingUp(paired, { do: 'present', ids: ['ada', 'cleo', 'eve'] });
    expect(left.pairs).toEqual([['cleo', 'eve']]);
    const one = settingUp(settingUp(left, { do: 'goes', id: 'ada' }), { do: 'comes', id: 'finn' });
    expect([one.present, one.pairs]).toEqual([['cleo', 'eve', 'finn'], [['cleo', 'eve']]]);
    expect(settingUp(one, { do: 'comes', id: 'cleo' }).present).toEqual(one.present);
  });

  test('comes to a session that can be kept, with what is prescribed to those who are here', () => {
    const ready = settingUp(people('ada', 'ben'), {
      do: 'group',
      changes: [{ is: 'together', pair: ['ada', 'ben'] }],
    });
    const unsure = { startAt: null, reached: 3, openness: 0.1 };
    const session = sessionOf(ready, breakdown, {
      ...made,
      pairs: [['ada', 'ben']],
      prescribed: [
        { student: 'ada', checkpoint: 'c2', rung: 2 },
        { student: 'cleo', checkpoint: 'c2', rung: 2 },
        { student: 'ben', checkpoint: 'gone', rung: 2 },
      ],
      watched: [
        { student: 'ben', checkpoint: 'c4', ...unsure },
        { student: 'cleo', checkpoint: 'c4', ...unsure },
      ],
    });
    expect(Session.parse(session)).toEqual(session);
    expect(session.prescribed).toEqual([{ student: 'ada', checkpoint: 'c2', rung: 2 }]);
    expect(session.watched).toEqual([{ student: 'ben', checkpoint: 'c4', ...unsure }]);
    expect([session.from, session.to, session.repsPerSide, session.roundSeconds]).toEqual([
      null,
      null,
      10,
      300,
    ]);
  });

  test('drills the entry up to the last grip, or from where it is said, or from the last grip on', () => {
    const grip = lastGripOf(breakdown).id;
    expect(grip).toBe('c2');
    const of = (to: Partial<SetUp>) =>
      sessionOf(settingUp(start, { do: 'set', to }), breakdown, { ...made, pairs: [['ada']] });
    expect(of({ span: 'entry' })).toMatchObject({ from: null, to: 'c2' });
    expect(of({ span: 'from', from: 'c4' })).toMatchObject({ from: 'c4', to: null });
    expect(startOf({ from: 'gone' }, breakdown)).toBe('c2');
    expect(of({ turns: 'minutes' }).repsPerSide).toBeNull();
  });

  test('is everything as before when one is repeated, without who has left and what is gone', () => {
    const before = Session.parse({
      ...sessionOf(
        settingUp(start, {
          do: 'set',
          to: { span: 'from', from: 'c3', turns: 'minutes', rung: 3, rounds: 4 },
        }),
        breakdown,
        { ...made, pairs: [['ada', 'ben'], ['cleo', 'dan'], ['eve']] },
      ),
    });
    const known = { people: new Set(['ada', 'ben', 'cleo', 'eve']), techniques: new Set(['test-lock']) };
    const again = settingUp(start, { do: 'repeat', session: before, known });
    expect(again).toMatchObject({
      present: ['ada', 'ben', 'cleo', 'eve'],
      pairs: [['ada', 'ben'], ['eve']],
      technique: 'test-lock',
      rung: 3,
      turns: 'minutes',
      rounds: 4,
      span: 'from',
      from: 'c3',
    });
    const elsewhere = settingUp(usualSetUp('other'), {
      do: 'repeat',
      session: before,
      known: { ...known, techniques: new Set(['other']) },
    });
    expect(elsewhere.technique).toBe('other');
  });

  test('keeps a reason with its pair', () => {
    const said = settingUp(start, { do: 'reason', pair: ['ada', 'ben'], words: 'both agreed' });
    expect(said.reasons['ada ben']).toBe('both agreed');
  });
});
