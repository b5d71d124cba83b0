import { mayAsk, type Who } from '@ulkret/contract';
import { useHere } from './signed-in';

/**
 * May the signed-in user ask what is for `who`? Other requests are not offered; the server refuses them in any case.
 */
export const useMay = (who: Who): boolean => mayAsk(useHere().coach.role, who);
