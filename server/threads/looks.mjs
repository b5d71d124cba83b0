// The program runs from its sources, in a thread as well.
import { register } from 'tsx/esm/api';

register();
await import('./looks.ts');
