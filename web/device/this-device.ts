import { uuidv7 } from 'uuidv7';

const key = 'ulkret-device';
let known: string | null = null;

/** This device's name in its facts: one coach may have two in a class. It says nothing about the owner. */
export function thisDevice(): string {
  if (known !== null) return known;
  try {
    known = localStorage.getItem(key);
  } catch {
    // A browser without storage is another device at each visit.
  }
  known ??= uuidv7().slice(-12);
  try {
    localStorage.setItem(key, known);
  } catch {
    // Full: this page goes by that name until it is closed.
  }
  return known;
}
