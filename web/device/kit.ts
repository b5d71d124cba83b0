import { endpoints } from '@ulkret/contract';
import { clock } from '../api/clock';
import { useApi } from '../api/use-api';

/** What the Mat needs, from the server or from this device. */
export const useKit = () => useApi(endpoints.kit, {}, { revalidateOnFocus: false });

/** Today's date where the coach is. */
export function today(): string {
  const at = new Date(clock.now());
  const two = (n: number) => String(n).padStart(2, '0');
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
}
