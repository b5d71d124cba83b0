import { mayAsk, type Who } from '@ulkret/contract';
import { useHere } from './signed-in';

/** May whoever is signed in ask what is for `who`? What they may not is not offered; the server refuses it all the same. */
export const useMay = (who: Who): boolean => mayAsk(useHere().coach.role, who);
