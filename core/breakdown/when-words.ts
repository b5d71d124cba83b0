import type { When } from './breakdown';

const compared = { '<': 'under', '>': 'over', '=': 'of' } as const;

/** When a way holds, as a coach says it: "as the low school does it", "in the gi", "where the reach margin is under 2". */
export function whenWords(when: When): string {
  switch (when.on) {
    case 'school':
      return `as taught by ${when.school}`;
    case 'attire':
      return when.attire === 'gi'
        ? 'in the gi'
        : when.attire === 'no-gi'
          ? 'without the gi'
          : 'in any attire';
    case 'situation':
      return when.situation;
    case 'body':
      return `where the ${when.fact} is ${when.is === '=' ? '' : `${compared[when.is]} `}${when.value}`;
  }
}
