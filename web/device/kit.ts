import { endpoints } from '@ulkret/contract';
import { neutralRules, type RuleSet } from '@ulkret/core/care';
import { clock } from '../api/clock';
import { useApi } from '../api/use-api';
import { dateOf } from '../ui/zone';

/** What the Mat needs, from the server or from this device. */
export const useKit = () => useApi(endpoints.kit, {}, { revalidateOnFocus: false });

/** The house's rules, with those that ship where this device has kept a kit of an older app. */
export const rulesOf = (kit: { rules?: RuleSet } | undefined): RuleSet => kit?.rules ?? neutralRules;

/** Today's date where the academy is, by the server's clock. */
export const today = (): string => dateOf(clock.now());
