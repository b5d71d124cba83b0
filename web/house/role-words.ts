import type { Role } from '@ulkret/contract';

/** What somebody of each role may do, as a head coach reads it. */
export const roleWords: Readonly<Record<Role, string>> = {
  student: 'sees their own card, and nothing else',
  operator: 'keeps the server, and sees no people',
  assistant: 'logs on the Mat and sees everything; changes nothing else',
  coach: 'decides what is corrected, writes the library, keeps the roster',
  head: 'also says who may',
};
