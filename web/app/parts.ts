import { part } from '../ui/part';
import { pageAt } from './pages';

/** What a page which was opened here before begins to load at once, before it is known who is signed in. */
export const Inside = part(() => import('./Inside'));

/** What an address needs first. */
export const firstParts = (address: string) => {
  const page = pageAt(address);
  return page ? [Inside, page] : [Inside];
};
