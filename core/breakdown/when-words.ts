import type { When } from './breakdown';

const compared = { '<': 'under', '>': 'over', '=': 'of' } as const;

/** When a way holds, as a coach says it: "as the low school does it", "in the gi", "where the limb does not close". */
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
      if (when.fact === 'reach margin' && when.is !== '=')
        return reachMarginWords(when.is, Number(when.value));
      return `where the ${when.fact} is ${when.is === '=' ? '' : `${compared[when.is]} `}${when.value}`;
  }
}

const reachMarginWords = (is: '<' | '>', cm: number): string =>
  cm === 0
    ? `where the limb ${is === '<' ? 'does not close' : 'closes'}`
    : `where ${is === '<' ? 'less' : 'more'} than ${cm} cm of reach are left`;
