import { expect, test } from '@jest/globals';
import { estimated, newStudent } from '.';

test('a length that nobody has measured is estimated from the stature; one that is measured never', () => {
  // Drillis and Contini (1966), as printed in Winter: hip joint at 0.530 H, hand 0.108 H.
  const known = newStudent({ id: 'ada', statureCm: 180, armSpanCm: 176 });
  expect(estimated(known, 'legLengthCm')).toBe(95);
  expect(estimated(known, 'handLengthCm')).toBe(19);
  expect(estimated(known, 'armSpanCm')).toBeNull();
  expect(estimated(newStudent({ id: 'ben' }), 'legLengthCm')).toBeNull();
});
