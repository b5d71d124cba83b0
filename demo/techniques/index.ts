import { BreakdownFile } from '@ulkret/core/formats';
import guardArmlock from './guard-armlock.json' with { type: 'json' };
import rearStrangle from './rear-strangle.json' with { type: 'json' };

/** The breakdowns that ship with the program, written from general knowledge of the sport, in the format of an export. */
export const library = [rearStrangle, guardArmlock].flatMap((file) => BreakdownFile.parse(file).techniques);
