import { config } from 'zod';

// The content security policy forbids making code from text. Zod would try, and the refusal costs a start 0.1 s on a tablet.
config({ jitless: true });
