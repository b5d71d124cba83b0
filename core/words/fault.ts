import { config, type core } from 'zod';

const kinds: Readonly<Record<string, string>> = {
  string: 'a text',
  number: 'a number',
  int: 'a whole number',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
  record: 'an object',
};
const things: Readonly<Record<string, readonly [string, string]>> = {
  string: ['letter', 'letters'],
  array: ['item', 'items'],
  set: ['item', 'items'],
};
const formats: Readonly<Record<string, string>> = {
  email: 'not an email address',
  url: 'not an address',
  uuid: 'not a UUID',
  date: 'not a day, such as 2026-11-26',
  datetime: 'not a date and time, such as 2026-11-26T18:30:00Z',
};
const quoted = (value: unknown): string => (typeof value === 'string' ? `"${value}"` : String(value));

/** How much at least or at most, counted in letters or items where it is a size. */
function amount(bound: number | bigint, origin: string): string {
  const thing = things[origin];
  return thing ? `${bound} ${Number(bound) === 1 ? thing[0] : thing[1]}` : String(bound);
}

/** What is wrong with a field that was given, and what it should be, in the words of somebody who fixes a file by hand. */
export function faultWords(issue: core.$ZodRawIssue): string {
  switch (issue.code) {
    case 'invalid_type':
      return issue.input === undefined
        ? `missing: it should be ${kinds[issue.expected] ?? issue.expected}`
        : `it should be ${kinds[issue.expected] ?? issue.expected}`;
    case 'invalid_value':
      return issue.values.length === 1
        ? `it should be ${quoted(issue.values[0])}`
        : `it should be one of ${issue.values.map(quoted).join(', ')}`;
    case 'too_small':
      return `it should ${things[issue.origin] ? 'have' : 'be'} ${issue.inclusive ? 'at least' : 'more than'} ${amount(issue.minimum, issue.origin)}`;
    case 'too_big':
      return `it should ${things[issue.origin] ? 'have' : 'be'} ${issue.inclusive ? 'at most' : 'less than'} ${amount(issue.maximum, issue.origin)}`;
    case 'unrecognized_keys':
      return `unknown field ${issue.keys.map(quoted).join(', ')}: remove it`;
    case 'invalid_format':
      return formats[issue.format] ?? 'wrong format';
    case 'invalid_union':
      return 'does not match any allowed form';
    default:
      return 'unreadable';
  }
}

config({ localeError: faultWords });
