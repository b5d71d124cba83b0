import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';
import { Id } from '@ulkret/core/breakdown';

/** A password as argon2id keeps it. */
export const hashPassword = (password: string): Promise<string> => hash(password);

// Checked against when the email is unknown, so that the time to answer does not tell which emails exist.
const nobody = hash(randomBytes(16).toString('hex'));

export const passwordFits = async (password: string, passwordHash: string | null): Promise<boolean> =>
  (await verify(passwordHash ?? (await nobody), password)) && passwordHash !== null;

export const newSecret = (): string => randomBytes(32).toString('base64url');
export const hashSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');

/** A secret as it is handed out: it names its academy, so that even to look it up is scoped to one. */
export const handedOut = (academyId: Id, secret: string): string => `${academyId}.${secret}`;

/** A link that was given out, with its hash; null if there is none. */
export function readSecret(given: string): { academyId: Id; secretHash: string } | null {
  const [academy, secret] = given.split('.');
  const id = Id.safeParse(academy);
  return id.success && secret ? { academyId: id.data, secretHash: hashSecret(secret) } : null;
}
