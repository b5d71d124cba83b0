import { part } from '../ui/part';
import { Live, pages } from './pages';

/** What a page which was opened here before begins to load at once, before it is known who is signed in. */
export const Inside = part(() => import('./Inside'));

const fits = (path: string, address: string): boolean =>
  new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}$`).test(address);

/** What an address needs first. The router itself is not here yet. */
export const firstParts = (address: string) => {
  const [, Page] = pages.find(([path]) => fits(path, address)) ?? [];
  if (Page) return [Inside, Page];
  return fits('/mat/:session', address) ? [Inside, Live] : [Inside];
};
