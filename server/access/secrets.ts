import { createHash, randomBytes } from 'node:crypto';
import { hash, verify } from '@node-rs/argon2';

/** A password as argon2id keeps it. */
export const hashPassword = (password: string): Promise<string> => hash(password);

// Checked against when the email is unknown, so that the time to answer does not tell which emails exist.
const nobody = hash(randomBytes(16).toString('hex'));

export const passwordFits = async (password: string, passwordHash: string | null): Promise<boolean> =>
  (await verify(passwordHash ?? (await nobody), password)) && passwordHash !== null;

export const newSecret = (): string => randomBytes(32).toString('base64url');
export const hashSecret = (secret: string): string => createHash('sha256').update(secret).digest('hex');
