import type { Draft } from '../breakdown';
import type { FieldPath } from '../field-path';

/** Fields that hold names, numbers or choices: words in them are not read for a side. */
const notProse = new Set([
  'id',
  'technique',
  'author',
  'source',
  'date',
  'kind',
  'by',
  'do',
  'type',
  'ahead',
  'unit',
  'quantity',
  'on',
  'fact',
  'is',
  'at',
  'root',
  'opens',
  'closes',
  'after',
  'backTo',
  'enteredAt',
  'brokenDownIn',
  'becomes',
  'joinsAt',
  'attire',
  'ruleTags',
  'retired',
]);

/** Every text of a draft that is read aloud, with the way to its field. */
export function textsOf(draft: Draft): { path: FieldPath; text: string }[] {
  const found: { path: FieldPath; text: string }[] = [];
  const visit = (value: unknown, path: FieldPath): void => {
    if (typeof value === 'string') found.push({ path, text: value });
    else if (Array.isArray(value)) value.forEach((one, i) => visit(one, [...path, i]));
    else if (value !== null && typeof value === 'object')
      for (const [key, one] of Object.entries(value)) {
        // A window's opens and closes are prose; a defence's are checkpoints.
        const prose = !notProse.has(key) || path.at(-1) === 'window';
        if (prose) visit(one, [...path, key]);
      }
  };
  visit(draft, []);
  return found;
}
