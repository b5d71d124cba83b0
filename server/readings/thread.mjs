// The program runs from its sources, in a thread as well.
import { register } from 'tsx/esm/api';

register();
export const { read, rates, decide, choices, agreement } = await import('./thread.ts');
