import { describe, expect, test } from '@jest/globals';
import { plainBreakdown } from '../test';
import {
  answersOf,
  Breakdown,
  critique,
  defencesOpenAt,
  doorsOf,
  type Draft,
  fundamentalsOf,
  type Id,
  positionOf,
  positionsNamed,
  publishable,
  readFor,
  shareByRank,
  shippedPositions,
  Technique,
  withAnswerIds,
} from '.';

/**
 * Situations from practice that a breakdown must be able to say without a way round in free text. Each is a small change of a
 * sound breakdown; each must be read by the schema, pass the critique without an error, and give back what was said.
 */

const library = (id: string): Id[] | null =>
  id === 'test-lock' || id === 'other-lock' ? ['c1', 'c2', 'c3', 'c4', 'c5'] : null;

const lock = (more: Partial<Technique> = {}) =>
  Technique.parse({
    id: 'test-lock',
    name: 'Test lock',
    aliases: [],
    kind: 'submission',
    attire: 'either',
    startPosition: 'Guard',
    mechanism: 'rotation',
    regions: ['shoulder'],
    ruleTags: [],
    loadSpeed: 'fast',
    safetyNote: 'Slowly.',
    ...more,
  });

function said(change: (draft: Draft) => void, technique = lock()): Breakdown {
  const draft: Draft = plainBreakdown(5);
  draft.checkpoints.forEach((one, i) => (one.criterion = `Your knee touches spot ${i + 1}.`));
  draft.defences.forEach(
    (one) => (one.answers = [{ do: 'mend', at: one.opens, how: 'Begin again.', bait: false }]),
  );
  change(draft);
  expect(critique(draft, technique, library).filter(({ severity }) => severity === 'error')).toEqual([]);
  const kept = Breakdown.parse(JSON.parse(JSON.stringify(draft)));
  // A field that no schema knew would be dropped without a word.
  expect(kept).toEqual(draft);
  return kept;
}
const point = (draft: Draft, id: Id) => draft.checkpoints.find((one) => one.id === id)!;
const defence = (draft: Draft, id: Id) => draft.defences.find((one) => one.id === id)!;

describe('a breakdown can say', () => {
  test('that a lock depends on limb length against girth, and that another opens when an arm slips in', () => {
    said((d) => {
      point(d, 'c3').variants = [
        {
          id: 'v',
          name: 'Short legs',
          when: { on: 'body', fact: 'reach margin', is: '<', value: 0 },
          criterion: 'Your shin touches their neck.',
        },
      ];
      defence(d, 'd3').answers = [
        { do: 'switch', technique: 'other-lock', enteredAt: 'c2', how: 'Take the arm.', bait: false },
      ];
    });
  });

  test('that two schools meet the same checkpoint, and which one holds better is left to the reps', () => {
    const schools = ['hand to cloth', 'cloth to hand'];
    said(
      (d) => {
        point(d, 'c2').variants = schools.map((school, i) => ({
          id: `v${i}`,
          name: school,
          when: { on: 'school' as const, school },
          proofs: [{ by: 'see' as const, text: 'The shoulder is off the floor.' }],
        }));
      },
      lock({ attire: 'gi' }),
    );
  });

  test('that a prevention, continued, becomes a counter', () => {
    said((d) => {
      Object.assign(defence(d, 'd1'), { type: 'prevention', becomes: 'd2' });
      Object.assign(defence(d, 'd2'), { type: 'counter', leaves: { position: 'mount', ahead: 'partner' } });
    });
  });

  test('which defence is open at which moment: early, late, and only under load', () => {
    const draft = said((d) => {
      Object.assign(defence(d, 'd1'), { opens: 'c1', closes: 'c3' });
      Object.assign(defence(d, 'd5'), { opens: 'c4', closes: 'c5', underLoadOnly: true, type: 'last ditch' });
    });
    const open = (id: Id) => defencesOpenAt(draft, id).map((one) => one.id);
    expect(open('c3')).toContain('d1');
    expect(open('c4')).toEqual(['d4', 'd5']);
  });

  test('that one grip is four fifths of the work, in a window, with a drill that makes room', () => {
    said((d) => {
      d.checkpoints.forEach((one) => (one.belief = one.id === 'c2' ? 80 : 5));
      point(d, 'c2').window = { opens: 'while the partner rears back', closes: 'when they settle' };
      d.mistakes[1]!.drills = ['Make the space, ten each side.'];
    });
  });

  test('that a control is given up as a bait, and that the loop comes back on the other side', () => {
    said((d) => {
      defence(d, 'd2').answers = [
        { do: 'retreat', to: 'Half guard', how: 'Let the hip go.', bait: true },
        {
          do: 'switch',
          technique: 'test-lock',
          enteredAt: 'c1',
          otherSide: true,
          how: 'Take the far arm.',
          bait: false,
        },
      ];
    });
  });

  test('what must hold first, such as the elbow before the hips', () => {
    const draft = said((d) => {
      point(d, 'c2').after = [];
      point(d, 'c4').after = ['c2'];
    });
    expect(fundamentalsOf(draft, 'c4')).toEqual(['c2']);
    expect(fundamentalsOf(draft, 'c3')).toEqual(['c2']);
  });

  test('a rule with its stated exception, and a check by the direction of the thumb', () => {
    said((d) => {
      point(d, 'c4').variants = [
        {
          id: 'v',
          name: 'Feet crossed',
          when: { on: 'situation', situation: 'the partner stacks' },
          criterion: 'Your ankles cross behind the far shoulder.',
        },
      ];
      point(d, 'c5').tolerance = {
        quantity: 'angle',
        unit: 'degrees',
        low: 0,
        high: 20,
        between: 'the thumb and the ceiling',
      };
    });
  });

  test('the situations from which one lock is entered, and where each joins', () => {
    said((d) => {
      d.entries = ['a clinch', 'a neutral tie', 'a failed sweep'].map((from, i) => ({
        id: `e${i}`,
        from,
        joinsAt: `c${i + 1}`,
        how: 'Step in.',
      }));
    });
  });

  test('that a hold is proved by touch, and another by what the partner says', () => {
    said((d) => {
      point(d, 'c1').proofs = [
        { by: 'feel', text: 'Two fingers fit into the palm.' },
        { by: 'ask', text: 'The partner feels the wrist, not the forearm.' },
      ];
    });
  });

  test('that a rule set bans it, and that one variant of it is restricted although the technique is not', () => {
    const technique = lock({ ruleTags: ['twisting leg lock'], regions: ['knee'] });
    said((d) => {
      point(d, 'c3').variants = [
        {
          id: 'v',
          name: 'Foot above the knee',
          when: { on: 'situation', situation: 'foot above the knee' },
          ruleTags: ['slicer'],
          caution: 'Stop at the first pain in the knee.',
        },
      ];
    }, technique);
  });

  test('a tolerance of a few degrees, and three stops that keep within it', () => {
    // Common practice: a kneebar is lost at five to ten degrees of rotation.
    said((d) => {
      point(d, 'c4').tolerance = {
        quantity: 'angle',
        unit: 'degrees',
        low: -5,
        high: 5,
        between: 'the shin bone and the line of the hips',
      };
      point(d, 'c4').after = ['c1', 'c2', 'c3'];
    });
  });

  test('that a symptom is late and its cause early, and why the student does it', () => {
    said((d) =>
      Object.assign(d.mistakes[4]!, { root: 'c2', believes: 'More squeeze ends it.', cue: 'Deeper first.' }),
    );
  });

  test('that a failure leads back to the beginning, or that there is no mending', () => {
    said((d) => {
      point(d, 'c3').mendable = { backTo: 'c1' };
      point(d, 'c5').mendable = null;
    });
  });

  test('the exits of a control, and which of them spare no training partner', () => {
    said(
      (d) => {
        d.exits = Array.from({ length: 13 }, (_, i) => ({
          id: `x${i}`,
          at: `c${1 + (i % 3)}`,
          technique: 'other-lock',
          how: 'Leave to it.',
          unsafe: i === 12,
        }));
      },
      lock({ kind: 'control', mechanism: 'none' }),
    );
  });

  test('where a gap makes a finish fail, and the way that closes it for a school, an attire or a heavier partner', () => {
    said((d) => {
      point(d, 'c4').variants = [
        {
          id: 'a',
          name: 'In the gi',
          when: { on: 'attire', attire: 'gi' },
          criterion: 'Your hand holds the cloth.',
        },
        {
          id: 'b',
          name: 'Much heavier partner',
          when: { on: 'body', fact: 'partner mass ratio', is: '>', value: 1.25 },
          criterion: 'Your hip touches the floor.',
        },
        {
          id: 'c',
          name: 'Stiff hips',
          when: { on: 'body', fact: 'hip mobility', is: '=', value: 'low' },
          caution: 'Stop at the first pain.',
        },
      ];
    });
  });

  test('everything for one side, to be read for the other, with near and far left alone', () => {
    const draft = said(
      (d) => (point(d, 'c2').criterion = 'Your {right} wrist touches the near side, under their {left} arm.'),
    );
    expect(readFor(point(draft, 'c2').criterion, 'left')).toBe(
      'Your left wrist touches the near side, under their right arm.',
    );
  });

  test('that a visible sign tells of failure, and not of success', () => {
    const draft = said((d) => {
      point(d, 'c3').proofs = [
        { by: 'see', text: 'The forearm lies against the neck.' },
        { by: 'see', text: 'Daylight behind the neck.', shows: 'broken' },
      ];
    });
    expect(point(draft, 'c3').proofs.filter(({ shows }) => shows === 'broken')).toHaveLength(1);
  });

  test('an upper bound alone, a place along a limb, and where one thing is seen from another', () => {
    said((d) => {
      // Common practice: lost by a turn of five to ten degrees, so five at most.
      point(d, 'c2').tolerance = {
        quantity: 'angle',
        unit: 'degrees',
        low: null,
        high: 5,
        between: 'the leg and its own axis',
      };
      point(d, 'c3').tolerance = {
        quantity: 'share',
        unit: 'percent of the limb from the joint',
        low: 40,
        high: 60,
        between: 'knee and ankle',
      };
      point(d, 'c4').tolerance = { what: 'the elbow', is: 'below', of: 'the line of the shoulders' };
      point(d, 'c2').proofs.push({ by: 'measure', text: 'Look along the shin.' });
      point(d, 'c3').proofs.push({ by: 'measure', text: 'Count hands from the knee.' });
    });
  });

  test('a timed block: within seconds of the one before, and both at the same moment', () => {
    said((d) => Object.assign(point(d, 'c4'), { withinSeconds: 1.5, together: 'c3' }));
    const draft: Draft = plainBreakdown(5);
    point(draft, 'c4').together = 'c9';
    expect(Breakdown.safeParse(draft).success).toBe(false);
  });

  test('what a lock loads before its finish, what a defence loads on its own student, and what a control never does', () => {
    const wrist = lock({
      loads: [
        { region: 'shoulder', whom: 'partner', from: null },
        { region: 'wrist', whom: 'partner', from: 'c2' },
      ],
    });
    said(() => {}, wrist);
    said(
      () => {},
      lock({ kind: 'defence', regions: ['neck'], loads: [{ region: 'neck', whom: 'student', from: null }] }),
    );
    const lost = lock({ loads: [{ region: 'wrist', whom: 'partner', from: 'c9' }] });
    expect(publishable(critique(plainBreakdown(5), lost, library))).toBe(false);
  });

  test('what the partner is told to play, and which answer was tried, by an id that it keeps', () => {
    const draft = said((d) => {
      defence(d, 'd2').task = 'Hide the heel as soon as the leg is crossed, at half speed.';
      defence(d, 'd2').answers = [
        { id: 'walk', do: 'mend', at: 'c2', how: 'Walk the hip round.', bait: false },
        { do: 'retreat', to: 'Half guard', how: 'Let the leg go.', bait: false },
      ];
    });
    expect(answersOf(defence(draft, 'd2')).map(({ id }) => id)).toEqual(['walk', 'd2-answer-2']);
    const kept = withAnswerIds(draft);
    // Moved, they are the same answers.
    const moved = [...defence(kept, 'd2').answers].reverse();
    expect(answersOf({ id: 'd2', answers: moved }).map(({ id }) => id)).toEqual(['d2-answer-2', 'walk']);
  });

  test('from which position it starts, where it is entered from and where a defence leads, as one thing by any of its names', () => {
    const draft = said(
      (d) => {
        d.entries = [{ id: 'e', from: 'Neutral tie', joinsAt: 'c1', how: 'Step in.' }];
        defence(d, 'd1').leaves.position = 'guard';
      },
      lock({ startPosition: 'Closed guard' }),
    );
    const named = positionsNamed({ startPosition: 'Closed guard' }, draft);
    expect(new Set(named.map((text) => positionOf(text, shippedPositions)?.id))).toEqual(
      new Set(['closed-guard', 'collar-tie']),
    );
  });

  test('the order of importance alone, with ties', () => {
    const draft = said((d) => {
      const rank = new Map([
        ['c4', 1],
        ['c2', 2],
        ['c3', 2],
      ]);
      d.checkpoints = shareByRank(d, (id) => rank.get(id)).checkpoints;
    });
    const [, c2, c3, c4] = draft.checkpoints.map(({ belief }) => belief);
    expect(c4! > c2! && Math.abs(c2! - c3!) <= 1).toBe(true);
  });

  test('where one can go on to, from what held, on which side, and what spares a training partner', () => {
    const draft = said((d) => {
      d.exits = [{ id: 'x', at: 'c3', technique: 'other-lock', enteredAt: 'c2', how: 'Fall.', unsafe: true }];
      defence(d, 'd3').answers = [
        {
          id: 'far',
          do: 'switch',
          technique: 'other-lock',
          otherSide: true,
          how: 'The far arm.',
          bait: false,
        },
      ];
    });
    expect(doorsOf(draft)).toMatchObject([
      { by: 'x', answers: null, heldTo: 'c3', enteredAt: 'c2', unsafe: true },
      { by: 'far', answers: 'd3', heldTo: 'c2', enteredAt: null, otherSide: true },
    ]);
  });

  test('and what it cannot say is refused: a thing that is not there', () => {
    const draft: Draft = plainBreakdown(5);
    draft.entries = [{ id: 'e', from: 'a clinch', joinsAt: 'c9', how: 'Step in.' }];
    expect(publishable(critique(draft, lock(), library))).toBe(false);
    expect(Breakdown.safeParse(draft).success).toBe(false);
  });
});
