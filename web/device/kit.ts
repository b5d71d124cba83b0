import { endpoints } from '@ulkret/contract';
import { neutralRules, RuleSet } from '@ulkret/core/care';
import { clock } from '../api/clock';
import { useApi } from '../api/use-api';
import { dateOf } from '../ui/zone';

/** What the Mat needs, from the server or from this device. */
export const useKit = () => useApi(endpoints.kit, {}, { revalidateOnFocus: false });

const read = new WeakMap<object, RuleSet>();
/** The house's rules; what a kit that this device has kept of an older app does not say is filled in. */
export function rulesOf(kit: { rules?: RuleSet } | undefined): RuleSet {
  if (!kit?.rules) return neutralRules;
  const known = read.get(kit.rules) ?? RuleSet.parse(kit.rules);
  read.set(kit.rules, known);
  return known;
}

/** Today's date where the academy is, by the server's clock. */
export const today = (): string => dateOf(clock.now());
