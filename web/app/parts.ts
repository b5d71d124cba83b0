import { page } from '../ui/page';
import { Live } from './pages';

/** What a page which was opened here before begins to load at once, before it is known who is signed in. */
export const Inside = page(() => import('./Inside'));

/** What an address needs first. */
export const firstParts = (path: string) => (/^\/mat\/[^/]+$/.test(path) ? [Inside, Live] : [Inside]);
