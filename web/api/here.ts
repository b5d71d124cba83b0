import type { Coach } from '@ulkret/contract';
import type { Units } from '@ulkret/core/people';
import type { Weekday } from '@ulkret/core/reading';
import { createContext } from 'react';

/** The signed-in coach, and the academy. */
export interface Here {
  coach: Coach;
  academy: { id: string; name: string; units: Units; zone: string; weekBegins: Weekday };
}

export const HereContext = createContext<Here | null>(null);
