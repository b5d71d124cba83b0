import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { harmIn } from './harm';

const oneOf = (...words: string[]) => fc.constantFrom(...words);
const sentence = (...parts: fc.Arbitrary<string>[]) =>
  fc.tuple(...parts).map((words) => {
    const text = words.filter(Boolean).join(' ');
    return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
  });

const fast = oneOf(
  'quickly',
  'fast',
  'hard',
  'as fast as you can',
  'explosively',
  'suddenly',
  'at full speed',
);
const violently = oneOf(
  'sharply',
  'suddenly',
  'violently',
  'as hard as you can',
  'with all your strength',
  'hard',
);
const joint = oneOf(
  'the neck',
  'the elbow',
  'their knee',
  'the partner’s shoulder',
  'the heel',
  'his wrist',
  'the head',
  'the arm',
);
const tapped = oneOf('they tap', 'the partner taps', 'he taps', 'the tap', 'your partner taps out');

/** Sentences with force or speed in them that hurt nobody. */
const harmless: readonly [string, fc.Arbitrary<string>][] = [
  [
    'letting go',
    sentence(
      oneOf('release', 'let go of', 'open', 'stop loading'),
      joint,
      oneOf('quickly', 'fast', 'at once', ''),
      oneOf('at the tap', 'when they tap', 'as soon as the partner taps', 'before the partner has to tap'),
    ),
  ],
  [
    'moving oneself',
    sentence(
      oneOf(
        'step around',
        'move your hips',
        'switch to the other side',
        'recover guard',
        'get to your feet',
        'circle out',
        'climb to the back',
      ),
      fast,
    ),
  ],
  [
    'a warning',
    sentence(
      oneOf('never', 'do not', 'don’t', 'avoid to'),
      oneOf('jerk', 'yank', 'crank', 'wrench', 'twist', 'slam'),
      joint,
      violently,
    ),
  ],
  [
    'a warning about the tap',
    sentence(
      oneOf('never', 'do not', 'you must not'),
      oneOf('keep squeezing', 'go on', 'continue', 'hold on', 'keep pulling'),
      oneOf('after', 'once'),
      tapped,
    ),
  ],
  [
    'slow pressure',
    sentence(
      oneOf('press', 'turn', 'bend', 'extend', 'lift'),
      joint,
      oneOf('slowly', 'gently', 'a little', 'by degrees'),
      oneOf('until they tap', 'and wait for the tap', ''),
    ),
  ],
  [
    'cloth and ground',
    sentence(
      oneOf('pull', 'drive', 'push'),
      oneOf('the sleeve', 'the collar', 'your feet into the mat', 'the belt', 'your hips forward'),
      fast,
    ),
  ],
  [
    'breaking a grip',
    sentence(
      oneOf('break', 'strip', 'snap off'),
      oneOf('the grip', 'their posture', 'the grips'),
      oneOf('', 'with both hands', 'at the collar'),
    ),
  ],
  [
    'without',
    sentence(
      oneOf('turn the hips', 'lift the hips', 'close the arms'),
      oneOf('without jerking', 'without cranking', 'instead of yanking', 'rather than ripping'),
      joint,
    ),
  ],
];

/** Sentences that ask for harm, some without a word of force. */
const harmful: readonly [string, fc.Arbitrary<string>][] = [
  [
    'a violent verb',
    sentence(
      oneOf('jerk', 'yank', 'rip', 'crank', 'wrench'),
      joint,
      oneOf('', 'straight', 'back', 'sharply'),
    ),
  ],
  [
    'a load with force',
    sentence(oneOf('twist', 'bend', 'hyperextend', 'push', 'pull', 'press', 'straighten'), joint, violently),
  ],
  [
    'force first',
    sentence(
      oneOf('with a sharp jerk', 'with all your strength', 'suddenly'),
      oneOf('straighten', 'twist', 'bend', 'pull'),
      joint,
    ),
  ],
  [
    'before the tap',
    sentence(
      oneOf('finish', 'put it on', 'close it', 'extend the arm', 'turn the heel'),
      oneOf('before', 'faster than'),
      oneOf('they can tap', 'the partner can tap', 'he has a chance to tap', 'they are able to tap'),
    ),
  ],
  [
    'after the tap',
    sentence(
      oneOf('keep squeezing', 'keep pulling', 'hold on', 'continue', 'keep the pressure'),
      oneOf('after', 'even when', 'even if'),
      tapped,
    ),
  ],
  [
    'no release',
    sentence(
      oneOf('do not let go', 'do not release', 'don’t stop', 'never let go'),
      oneOf('when', 'after'),
      oneOf('they tap', 'the partner taps'),
    ),
  ],
  [
    'until it gives',
    sentence(
      oneOf('twist', 'bend', 'lift', 'squeeze'),
      joint,
      oneOf(
        'until it pops',
        'until something cracks',
        'till it breaks',
        'until they pass out',
        'until you hear a pop',
        'until they scream',
      ),
    ),
  ],
  [
    'ignoring',
    sentence(
      oneOf('ignore', 'disregard', 'pretend not to notice'),
      oneOf('the tap', 'the first tap', 'it when they tap'),
    ),
  ],
  [
    'weight',
    sentence(
      oneOf('drop', 'throw', 'put'),
      oneOf('your whole weight', 'all your weight'),
      oneOf('on', 'onto'),
      joint,
    ),
  ],
  [
    'no time',
    sentence(
      oneOf('apply the lock', 'close the choke', 'turn the heel'),
      oneOf('so that there is no time to tap', 'so they have no chance to tap', 'too fast for them to tap'),
    ),
  ],
];

describe('harm', () => {
  test.each(harmless)('is not seen in %s', (_, sentences) => {
    fc.assert(
      fc.property(sentences, (text) => expect([text, harmIn(text)?.sure ?? false]).toEqual([text, false])),
    );
  });
  test.each(harmful)('is seen in %s', (_, sentences) => {
    fc.assert(fc.property(sentences, (text) => expect([text, harmIn(text) !== null]).toEqual([text, true])));
  });
  test.each([
    'The hard bone of the wrist lies on the throat.',
    'It is a fast lock: go slowly on the knee.',
    'Stop pulling. Go back two steps.',
    'Your hand holds the wrist.',
    'Swing your leg quickly over the head.',
    'Attack quickly but finish slowly.',
    'If they are slow to tap, let go anyway.',
  ])('is none in “%s”', (text) => {
    expect(harmIn(text)).toBeNull();
  });
  test.each([
    'Squeeze harder.',
    'Kick the knee straight.',
    'Explode the hips into the elbow.',
    'Only release after the second tap.',
    'Take the wrist and bend it sharply.',
  ])('is some in “%s”', (text) => {
    expect(harmIn(text)).not.toBeNull();
  });
  test('is asked about where it is not sure', () => {
    expect(harmIn('Clamp your knees hard around the arm.')).toMatchObject({ sure: false });
  });
});
