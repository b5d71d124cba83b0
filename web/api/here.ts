import type { Coach } from '@ulkret/contract';
import { createContext } from 'react';

/** Who is signed in, and where. */
export interface Here {
  coach: Coach;
  academy: { id: string; name: string };
}

export const HereContext = createContext<Here | null>(null);
