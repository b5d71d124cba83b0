import { createPrivateKey, createPublicKey, hkdfSync, sign, verify } from 'node:crypto';
import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { Decrypter, Encrypter, generateX25519Identity, identityToRecipient } from 'age-encryption';

/**
 * The key of the house: an identity of age (age-encryption.org/v1). What is sealed with it the program of that name opens as well, so
 * that nobody needs this one to get at a backup.
 */
export type HouseKey = string;

export const newHouseKey = (): Promise<HouseKey> => generateX25519Identity();
export const isHouseKey = (text: string): boolean => /^AGE-SECRET-KEY-1[0-9A-Z]{58}$/.test(text);

type Web = ReadableStream<Uint8Array>;
const toWeb = (from: Readable) => Readable.toWeb(from) as Web;

/** What comes, as only the key opens it. */
export async function sealed(from: Readable, key: HouseKey): Promise<Readable> {
  const encrypter = new Encrypter();
  encrypter.addRecipient(await identityToRecipient(key));
  return Readable.fromWeb((await encrypter.encrypt(toWeb(from) as never)) as unknown as Web);
}

/** What was sealed with one of these keys; a part that was changed, or is missing, breaks it off. Throws where no key is the right one. */
export async function opened(from: Readable, keys: readonly HouseKey[]): Promise<Readable> {
  const decrypter = new Decrypter();
  for (const key of keys) decrypter.addIdentity(key);
  return Readable.fromWeb((await decrypter.decrypt(toWeb(from) as never)) as unknown as Web);
}

/** What a sealed file begins with. */
export const sealMark = 'age-encryption.org/v1';

/** The head of a private key of Ed25519 in PKCS #8 (RFC 8410): its 32 bytes follow. */
const pkcs8 = Buffer.from('302e020100300506032b657004220420', 'hex');
const signingKey = (key: HouseKey) =>
  createPrivateKey({
    key: Buffer.concat([pkcs8, Buffer.from(hkdfSync('sha256', key, '', 'ulkret list of backups', 32))]),
    format: 'der',
    type: 'pkcs8',
  });

/** A signature of the house (Ed25519) under a text, and whether one is. */
export const signed = (text: string, key: HouseKey): string =>
  sign(null, Buffer.from(text), signingKey(key)).toString('base64');
export const isSigned = (text: string, signature: string, key: HouseKey): boolean =>
  verify(null, Buffer.from(text), createPublicKey(signingKey(key)), Buffer.from(signature, 'base64'));
