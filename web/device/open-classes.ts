import type { Session } from '@ulkret/core/session';
import { dateOf } from '../ui/zone';
import { today } from './kit';

/** Classes that nobody has ended: those of today, and those of an earlier day that were left open. The latest first. */
export function openClasses(sessions: readonly Session[]): { running: Session[]; leftOpen: Session[] } {
  const day = today();
  const open = sessions.filter(({ endedAt }) => endedAt === null);
  const isOfToday = ({ startedAt }: Session) => dateOf(Date.parse(startedAt)) === day;
  return { running: open.filter(isOfToday), leftOpen: open.filter((one) => !isOfToday(one)) };
}
