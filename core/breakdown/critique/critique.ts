import type { Draft } from '../breakdown';
import type { FieldPath } from '../field-path';
import type { Technique } from '../technique';
import { ofCheckpoints } from './of-checkpoints';
import { ofDefences } from './of-defences';
import { ofHarm } from './of-harm';
import { ofMistakes } from './of-mistakes';
import { ofAllCheckpoints, ofTheRest, ofTheWhole } from './of-the-whole';
import type { Beside, Finding, Library, Rule, Whole } from './rule';

/** What the rules find in each of a list, in order; `path` leads to the list, or to the draft itself where there is only one. */
function* found<One>(
  rules: readonly Rule<One>[],
  list: readonly One[],
  whole: Whole,
  path: FieldPath = [],
): Iterable<Finding> {
  for (const [place, one] of list.entries())
    for (const { severity, find } of rules)
      for (const [way, text] of find(one, whole, place))
        yield { severity, path: path.length > 0 ? [...path, place, ...way] : way, text };
}

/**
 * What a program can see to be wrong with a breakdown. Every finding leads to its field and says what to do. An empty list
 * does not mean that the breakdown is good, only that nothing is plainly missing or contradicts itself.
 */
export function critique(
  draft: Draft,
  technique: Technique,
  library: Library,
  beside: Beside = {},
): Finding[] {
  const whole: Whole = { draft, technique, library, beside };
  return [
    ...found(ofTheWhole, [draft], whole),
    ...found(ofCheckpoints, draft.checkpoints, whole, ['checkpoints']),
    ...found(ofAllCheckpoints, [draft], whole),
    ...found(ofMistakes, draft.mistakes, whole, ['mistakes']),
    ...found(ofDefences, draft.defences, whole, ['defences']),
    ...found(ofHarm, [draft], whole),
    ...found(ofTheRest, [draft], whole),
  ];
}
