import { describe, expect, test } from '@jest/globals';
import { opinionIn, statesSomething, statesTwo } from './language';

// Fifty criteria written by hand for this test: what each is, is our own judgement.
const one = [
  'Your breastbone touches the partner between the shoulder blades.',
  'Both feet hook inside the thighs.',
  'Your ear presses against the partner’s ear.',
  'The elbow pinches the arm to the ribs.',
  'The knees squeeze the shoulder.',
  'The hook catches the hip.',
  'The hand slides behind the head.',
  'The chest pushes the face away.',
  'The knuckles of your hand touch the mat.',
  'The hips are higher than the shoulders.',
  'The wrist bone lies on the throat.',
  'The palm faces the ceiling.',
  'Your shin crosses the belly.',
  'The partner cannot turn the head.',
  'No daylight shows behind the neck.',
  'Your heel blocks the far hip.',
  'The thumb points to the partner’s ear.',
  'The forearm clamps the ankle.',
  'The toes are curled under.',
  'Your knees come together until the tap.',
  'The grip is as deep as the elbow.',
  'The spine bends sideways.',
  'The shoulder wedges under the chin.',
  'Your hand cups the back of the head.',
  'The leg traps the arm against the ribs.',
  'They lie on the side of your strangling arm.',
  'Both knees and one hand touch the floor.',
];
const none = [
  'Good base.',
  'Elbow tight to the ribs',
  'Hips low and heavy',
  'Palm up, thumb out',
  'A really good grip',
  'Strong frame',
  'Deep collar grip',
  'Head control',
  'Weight forward',
  'Pressure!',
  'Both hands on the wrist',
  'Chin down',
];
const two = [
  'Your knee touches the floor and your hand holds the wrist.',
  'The head is off the line while the hips turn.',
  'The forearm is across the throat with the wrist bone up.',
  'The knee cuts to the mat as the hand posts.',
  'The elbow is inside; the hand is on the biceps.',
  'The hips are square but the shoulders turn.',
  'Your hand grips the sleeve and pulls it to the hip.',
  'The foot is on the hip with the knee out.',
];

describe('a criterion', () => {
  test.each(one)('“%s” states one thing', (text) => {
    expect([statesSomething(text), statesTwo(text)]).toEqual([true, false]);
  });
  test.each(none)('“%s” states nothing that is true or false', (text) => {
    expect([statesSomething(text), statesTwo(text)]).toEqual([false, false]);
  });
  test.each(two)('“%s” states two things', (text) => {
    expect([statesSomething(text), statesTwo(text)]).toEqual([true, true]);
  });
  test('is an opinion where it says how good something is', () => {
    expect(opinionIn('Your grip is really good.')).toBe('really good');
    expect(opinionIn('The hips are placed correctly.')).toBe('correctly');
    expect(opinionIn('The hips are square.')).toBeNull();
  });
});
