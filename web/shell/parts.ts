import { page } from './page';

/** The parts that a page which was opened here before begins to load at once, before it is known who is signed in. */
export const Inside = page(() => import('./Inside'));
export const Live = page(() => import('../mat/Live'));

/** What an address needs first. */
export const firstParts = (path: string) => (/^\/mat\/[^/]+$/.test(path) ? [Inside, Live] : [Inside]);
