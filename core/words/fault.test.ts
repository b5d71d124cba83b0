import { describe, expect, test } from '@jest/globals';
import { z } from 'zod';
import './fault';

const reasonOf = (schema: z.ZodType, given: unknown): string =>
  schema
    .safeParse(given)
    .error!.issues.map(({ message }) => message)
    .join('; ');

describe('what is wrong with a field', () => {
  test.each([
    [z.string(), undefined, 'missing: it should be a text'],
    [z.string(), 7, 'it should be a text'],
    [z.number(), 'seven', 'it should be a number'],
    [z.int(), 1.5, 'it should be a whole number'],
    [z.boolean(), 'yes', 'it should be true or false'],
    [z.array(z.string()), 'no list', 'it should be a list'],
    [z.object({}), null, 'it should be an object'],
    [z.date(), 'today', 'it should be date'],
    [z.enum(['grip', 'angle']), 'spell', 'it should be one of "grip", "angle"'],
    [z.literal('ulkret'), 'other', 'it should be "ulkret"'],
    [z.literal(0), 1, 'it should be 0'],
    [z.number().min(0), -5, 'it should be at least 0'],
    [z.number().gt(0), 0, 'it should be more than 0'],
    [z.number().max(100), 101, 'it should be at most 100'],
    [z.number().lt(1), 1, 'it should be less than 1'],
    [z.string().min(1), '', 'it should have at least 1 letter'],
    [z.string().max(3), 'long', 'it should have at most 3 letters'],
    [z.array(z.int()).min(2), [], 'it should have at least 2 items'],
    [z.strictObject({ a: z.int() }), { a: 1, b: 2 }, 'unknown field "b": remove it'],
    [z.string().regex(/^a/), 'b', 'wrong format'],
    [z.email(), 'b', 'not an email address'],
    [z.union([z.string(), z.int()]), null, 'does not match any allowed form'],
    [z.number().multipleOf(5), 7, 'unreadable'],
  ])('is said in plain words (%#)', (schema, given, says) => {
    expect(reasonOf(schema, given)).toBe(says);
  });

  test('is said in a schema’s own words where it has them', () => {
    expect(reasonOf(z.string('a student needs a name'), undefined)).toBe('a student needs a name');
  });
});
