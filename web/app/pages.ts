import type { ComponentType } from 'react';
import { readerWorker } from '../reader/worker';
import { part } from '../ui/part';

type Page = ComponentType & { load(): Promise<unknown>; isLoaded(): boolean };

/** A page of whole readings, for which the reader starts up while the page is still on its way. */
const readings = (from: () => Promise<{ default: ComponentType }>): Page =>
  part(() => {
    readerWorker();
    return from();
  });

/** The Mat of a running class: it has the whole screen. */
export const Live: Page = part(() => import('../mat/live/Live'));
export const liveAt = '/mat/:session';

/** Every other page by its address, each loaded on first use. The more exact address comes first. */
export const pages: readonly (readonly [path: string, Page: Page])[] = [
  ['/', part(() => import('../today/Today'))],
  ['/correct', part(() => import('../correct/Decide'))],
  ['/correct/card/:student', part(() => import('../correct/Card'))],
  ['/correct/followed', part(() => import('../correct/Followed'))],
  ['/library', part(() => import('../library/Library'))],
  ['/library/new', part(async () => ({ default: (await import('../library/Library')).NewTechnique }))],
  ['/library/import', part(() => import('../library/import/ImportPage'))],
  ['/library/pieces', part(() => import('../library/write/Pieces'))],
  ['/library/positions', part(() => import('../library/write/Positions'))],
  ['/library/drills', part(() => import('../library/write/Drills'))],
  ['/library/:technique', part(() => import('../library/Technique'))],
  ['/library/:technique/editions', part(() => import('../library/read/Editions'))],
  ['/library/:technique/print', part(() => import('../library/read/Print'))],
  ['/library/:technique/learn', part(() => import('../library/read/Learn'))],
  ['/mat', part(() => import('../mat/Mat'))],
  ['/mat/new', part(() => import('../mat/setup/SetUp'))],
  ['/mat/:session/after', part(() => import('../mat/after/After'))],
  ['/mat/:session/sheet', part(() => import('../mat/wall/WallSheet'))],
  ['/mat/:session/paper', part(() => import('../mat/after/PaperEntry'))],
  ['/unsent', part(() => import('../data/Unsent'))],
  ['/readings', part(() => import('../readings/Readings'))],
  ['/readings/:technique', part(() => import('../readings/Squad'))],
  ['/readings/:technique/variants', part(() => import('../readings/Variants'))],
  ['/readings/:technique/answers', part(() => import('../readings/Answers'))],
  ['/readings/:technique/weights', readings(() => import('../readings/Weights'))],
  ['/readings/:technique/at/:checkpoint', readings(() => import('../readings/Checkpoint'))],
  ['/readings/:technique/:student', readings(() => import('../readings/Student'))],
  ['/people', part(() => import('../people/People'))],
  ['/people/:student', part(() => import('../readings/Person'))],
  ['/account', part(() => import('../academy/Account'))],
  ['/access', part(() => import('../academy/Access'))],
  ['/access-log', part(() => import('../academy/AccessLog'))],
  ['/rules', part(() => import('../academy/Rules'))],
  ['/backups', part(() => import('../academy/Backups'))],
  ['/data', part(() => import('../data/Data'))],
];

const fits = (path: string, address: string): boolean =>
  new RegExp(`^${path.replace(/:\w+/g, '[^/]+')}/?$`, 'i').test(address);

/** The page of an address; undefined where there is none. It is asked before the router is there. */
export const pageAt = (address: string): Page | undefined =>
  pages.find(([path]) => fits(path, address))?.[1] ?? (fits(liveAt, address) ? Live : undefined);
