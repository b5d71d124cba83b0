// The program runs from its sources, in a thread as well.
import { register } from 'tsx/esm/api';

register();
const { read, decide } = await import('./thread.ts');
export { decide, read };
