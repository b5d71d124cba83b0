import type { Region, RuleTag, Technique } from '../breakdown';
import type { EventRules } from './rules';

type Tagged = Pick<Technique, 'ruleTags' | 'mechanism' | 'regions'>;

/** The rule tags of a technique. A spinal mechanism is one, whether or not somebody has tagged it. */
export const tagsOf = ({
  ruleTags,
  mechanism,
}: Pick<Tagged, 'ruleTags' | 'mechanism'>): readonly RuleTag[] =>
  mechanism === 'spinal' && !ruleTags.includes('spinal') ? [...ruleTags, 'spinal'] : ruleTags;

const belowTheKnee: readonly Region[] = ['ankle', 'calf'];

/** What an event says of a technique, as the house has read it, and the tags that say it. */
export interface AtEvent {
  says: 'legal' | 'not' | 'not said';
  by: readonly RuleTag[];
}

/**
 * Whether a technique is legal at an event. One tag that is not legal is enough; a tag that the house has not looked up leaves it open.
 * The event's own rule book comes first, always.
 */
export function legalAt(technique: Tagged, { tags }: Pick<EventRules, 'tags'>): AtEvent {
  const own = tagsOf(technique);
  const low = technique.regions.length > 0 && technique.regions.every((one) => belowTheKnee.includes(one));
  const not = own.filter((tag) => tags[tag] === 'not' || (tags[tag] === 'below the knee only' && !low));
  if (not.length > 0) return { says: 'not', by: not };
  const open = own.filter((tag) => tags[tag] === undefined);
  return open.length > 0 ? { says: 'not said', by: open } : { says: 'legal', by: own };
}
