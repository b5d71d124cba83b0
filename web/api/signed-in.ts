import { accessEndpoints } from '@ulkret/contract';
import { useContext } from 'react';
import { useApi } from './use-api';
import { type Here, HereContext } from './here';

export { type Here, HereContext };

/** Who is signed in, and where; only below the sign-in. */
export function useHere(): Here {
  const here = useContext(HereContext);
  if (!here) throw new Error('useHere is for pages behind the sign-in');
  return here;
}

export const useSession = () => useApi(accessEndpoints.session);
