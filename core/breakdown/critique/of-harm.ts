import type { Draft } from '../breakdown';
import type { FieldPath } from '../field-path';
import { harmIn } from './harm';
import type { FindingAt, Rule } from './rule';

/** Every text that asks somebody to do something. */
function* askedFor({
  checkpoints,
  mistakes,
  defences,
  entries = [],
  exits = [],
  finishes = [],
}: Draft): Iterable<[FieldPath, string]> {
  for (const [i, { title, criterion, variants }] of checkpoints.entries()) {
    yield [['checkpoints', i, 'title'], title];
    yield [['checkpoints', i, 'criterion'], criterion];
    for (const [k, variant] of variants.entries()) {
      yield [['checkpoints', i, 'variants', k, 'name'], variant.name];
      yield [['checkpoints', i, 'variants', k, 'criterion'], variant.criterion ?? ''];
    }
  }
  for (const [i, { cue, drills }] of mistakes.entries()) {
    yield [['mistakes', i, 'cue'], cue];
    for (const [k, drill] of drills.entries()) yield [['mistakes', i, 'drills', k], drill];
  }
  for (const [i, { task = '', answers }] of defences.entries()) {
    yield [['defences', i, 'task'], task];
    for (const [k, { how }] of answers.entries()) yield [['defences', i, 'answers', k, 'how'], how];
  }
  for (const [i, { how }] of entries.entries()) yield [['entries', i, 'how'], how];
  for (const [i, { how }] of exits.entries()) yield [['exits', i, 'how'], how];
  for (const [i, { title, how }] of finishes.entries()) {
    yield [['finishes', i, 'title'], title];
    yield [['finishes', i, 'how'], how];
  }
}

const found = (draft: Draft, sure: boolean): FindingAt[] =>
  [...askedFor(draft)].flatMap(([path, text]): FindingAt[] => {
    const harm = harmIn(text);
    if (harm?.sure !== sure) return [];
    return [
      [
        path,
        sure
          ? `“${harm.words}” asks for force or speed, or passes over the tap: say what to move, slowly, and let go at the tap.`
          : `“${harm.words}” may ask for force or speed on a joint or a neck. If it does, say what to move instead.`,
      ],
    ];
  });

/** What must not be asked of anybody. */
export const ofHarm: readonly Rule<Draft>[] = [
  { name: 'force or speed on a partner', severity: 'error', find: (draft) => found(draft, true) },
  { name: 'perhaps force or speed', severity: 'warning', find: (draft) => found(draft, false) },
];
