import type { ComponentType } from 'react';
import { readerWorker } from '../reader/worker';
import { page } from './page';

type Page = ComponentType & { load(): Promise<unknown>; isLoaded(): boolean };

/** A page of readings, for which the reader starts up while the page is still on its way. */
const readings = (from: () => Promise<{ default: ComponentType }>): Page =>
  page(() => {
    readerWorker();
    return from();
  });

/** The Mat of a running class: it has the whole screen. */
export const Live: Page = page(() => import('../mat/Live'));

/** Every other page by its address, each loaded when it is first wanted. The more exact address stands first. */
export const pages: readonly (readonly [path: string, Page: Page])[] = [
  ['/', page(() => import('../today/Today'))],
  ['/library', page(() => import('../library/Library'))],
  ['/library/new', page(async () => ({ default: (await import('../library/Library')).NewTechnique }))],
  ['/library/import', page(() => import('../library/ImportPage'))],
  ['/library/:technique', page(() => import('../library/Technique'))],
  ['/library/:technique/editions', page(() => import('../library/Editions'))],
  ['/library/:technique/print', page(() => import('../library/Print'))],
  ['/library/:technique/learn', page(() => import('../library/Learn'))],
  ['/mat', page(() => import('../mat/Mat'))],
  ['/mat/new', page(() => import('../mat/SetUp'))],
  ['/mat/:session/after', page(() => import('../mat/After'))],
  ['/mat/:session/sheet', page(() => import('../mat/WallSheet'))],
  ['/mat/:session/paper', page(() => import('../mat/PaperEntry'))],
  ['/waiting', page(() => import('../data/Waiting'))],
  ['/readings', readings(() => import('../readings/Readings'))],
  ['/readings/:technique', readings(() => import('../readings/Squad'))],
  ['/readings/:technique/beliefs', readings(() => import('../readings/Beliefs'))],
  ['/readings/:technique/at/:checkpoint', readings(() => import('../readings/Checkpoint'))],
  ['/readings/:technique/:student', readings(() => import('../readings/Student'))],
  ['/people', page(() => import('../people/People'))],
  ['/data', page(() => import('../data/Data'))],
];
