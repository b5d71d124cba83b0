import { part } from '../ui/part';
import { pageAt } from './pages';

/** What a page that was opened here before begins to load at once, before the sign-in is known. */
export const Inside = part(() => import('./Inside'));

/** The parts that an address needs first. */
export const firstParts = (address: string) => {
  const page = pageAt(address);
  return page ? [Inside, page] : [Inside];
};
