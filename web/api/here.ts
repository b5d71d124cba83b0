import type { Coach } from '@ulkret/contract';
import type { Units } from '@ulkret/core/people';
import { createContext } from 'react';

/** Who is signed in, and where. */
export interface Here {
  coach: Coach;
  academy: { id: string; name: string; units: Units; zone: string };
}

export const HereContext = createContext<Here | null>(null);
