import { RuleSet } from '@ulkret/core/care';
import { Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

/** A change of the rules: who made it, when, and what it was, a few words each. */
export const RuleChange = z.object({
  revision: z.int().positive(),
  by: z.string(),
  at: Instant,
  changes: z.array(z.string()),
});
export type RuleChange = z.infer<typeof RuleChange>;

/** The house's rules; revision 0 are those that ship. */
export const HouseRules = z.object({
  rules: RuleSet,
  revision: z.int().min(0),
  /** The latest first. */
  history: z.array(RuleChange),
});
export type HouseRules = z.infer<typeof HouseRules>;

export const rulesEndpoints = {
  rules: define({
    method: 'get',
    path: '/api/rules',
    who: 'assistant',
    summary: 'The rules and their history',
    output: () => HouseRules,
  }),
  saveRules: define({
    method: 'put',
    path: '/api/rules',
    who: 'head',
    summary: 'Replace the rules; refused if somebody else changed them since `revision`',
    body: () => z.object({ rules: RuleSet, revision: z.int().min(0).max(1_000_000) }),
    output: () => HouseRules,
  }),
} as const;
