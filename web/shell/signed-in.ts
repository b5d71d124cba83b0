import { type Coach, endpoints } from '@ulkret/contract';
import { createContext, useContext } from 'react';
import { useApi } from './api';

export interface Here {
  coach: Coach;
  academy: { id: string; name: string };
}

export const HereContext = createContext<Here | null>(null);

/** Who is signed in, and where; only below the sign-in. */
export function useHere(): Here {
  const here = useContext(HereContext);
  if (!here) throw new Error('useHere is for pages behind the sign-in');
  return here;
}

export const useSession = () => useApi(endpoints.session);
