import { endpoints } from '@ulkret/contract';
import { clock } from '../api/clock';
import { useApi } from '../api/use-api';
import { dateOf } from '../ui/zone';

/** What the Mat needs, from the server or from this device. */
export const useKit = () => useApi(endpoints.kit, {}, { revalidateOnFocus: false });

/** Today's date where the academy is, by the server's clock. */
export const today = (): string => dateOf(clock.now());
