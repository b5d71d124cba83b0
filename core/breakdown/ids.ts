import { z } from 'zod';

/** The name of a thing within its academy: lower-case letters, digits and hyphens, at most 64. Stable for ever. */
export const Id = z
  .string()
  .regex(/^[a-z0-9][a-z0-9-]{0,63}$/, 'an id is 1 to 64 lower-case letters, digits and hyphens');
export type Id = z.infer<typeof Id>;

/** A day as an ISO date, within the years that anything here can be of. */
export const Day = z.iso
  .date()
  .refine((day) => day >= '1900-01-01' && day < '2100-01-01', 'it should be a day between 1900 and 2100');

/** The lead side: the side of the attacker's body that a breakdown is written for. */
export const Side = z.enum(['right', 'left']);
export type Side = z.infer<typeof Side>;

/** The number of an edition, as a store can hold it. */
export const EditionNumber = z.int().positive().max(2_147_483_647);
