import type { Role } from '@ulkret/contract';

/** What somebody of each role may do, as a head coach reads it. */
export const roleWords: Readonly<Record<Role, string>> = {
  student: 'sees only their own card',
  operator: 'keeps the server, sees no people',
  assistant: 'logs on the Mat, sees everything, changes nothing else',
  coach: 'decides corrections, writes the library, keeps the roster',
  head: 'also decides who may sign in',
};
