import { Breakdown, Technique } from '@ulkret/core/breakdown';
import { rearStrangle, rearStrangleBreakdown } from './rear-strangle';

/** The breakdowns that ship with the program, written from general knowledge of the sport. */
export const library: { technique: Technique; editions: Breakdown[] }[] = [
  { technique: Technique.parse(rearStrangle), editions: [Breakdown.parse(rearStrangleBreakdown)] },
];
