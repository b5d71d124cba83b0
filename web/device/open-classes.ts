import type { Session } from '@ulkret/core/session';
import { dateOf } from '../ui/zone';
import { today } from './kit';

/** Open classes: today's, and any left open on an earlier day. The latest first. */
export function openClasses(sessions: readonly Session[]): { running: Session[]; leftOpen: Session[] } {
  const day = today();
  const open = sessions.filter(({ endedAt }) => endedAt === null);
  const isOfToday = ({ startedAt }: Session) => dateOf(Date.parse(startedAt)) === day;
  return { running: open.filter(isOfToday), leftOpen: open.filter((one) => !isOfToday(one)) };
}
