/** Numbers as they are said everywhere: whole percent, a range with a dash, a thing counted. */

export const percent = (share: number): string => `${Math.round(share * 100)} %`;
export const range = ({ low, high }: { low: number; high: number }): string =>
  `${Math.round(low * 100)}–${Math.round(high * 100)} %`;
/** A whole number, its thousands grouped. */
export const grouped = (n: number): string => n.toLocaleString('en');
export const many = (n: number, one: string, more = `${one}s`): string =>
  `${grouped(n)} ${n === 1 ? one : more}`;
/** A chance, never said to be certain. */
export const sure = (chance: number): string => (chance > 0.99 ? 'over 99 %' : percent(chance));
export * from './fault';
