import { page } from '../ui/page';

/** Every page, loaded when it is first wanted. */
export const Live = page(() => import('../mat/Live'));
export const Today = page(() => import('../today/Today'));
export const Library = page(() => import('../library/Library'));
export const Technique = page(() => import('../library/Technique'));
export const NewTechnique = page<object>(async () => ({
  default: (await import('../library/Library')).NewTechnique,
}));
export const ImportPage = page(() => import('../library/ImportPage'));
export const Editions = page(() => import('../library/Editions'));
export const Print = page(() => import('../library/Print'));
export const Learn = page(() => import('../library/Learn'));
export const Mat = page(() => import('../mat/Mat'));
export const SetUp = page(() => import('../mat/SetUp'));
export const After = page(() => import('../mat/After'));
export const WallSheet = page(() => import('../mat/WallSheet'));
export const PaperEntry = page(() => import('../mat/PaperEntry'));
export const Waiting = page(() => import('../data/Waiting'));
export const Readings = page(() => import('../readings/Readings'));
export const Squad = page(() => import('../readings/Squad'));
export const Student = page(() => import('../readings/Student'));
export const Checkpoint = page(() => import('../readings/Checkpoint'));
export const Beliefs = page(() => import('../readings/Beliefs'));
export const People = page(() => import('../people/People'));
export const Data = page(() => import('../data/Data'));
