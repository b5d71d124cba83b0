import type { KeptFact } from '../api/store';

/** Something that the server did not take, with what it said. */
export interface Refused {
  id: string;
  reason: string;
  /** Null for a session or a person. */
  fact: KeptFact | null;
}

/** The state of this device's entries. `held` says why they are not being sent, if so. */
export interface SyncState {
  /** False until this device has been looked through for what an earlier page has left. */
  looked: boolean;
  waiting: number;
  /** Of the waiting: those that the device could not store. */
  unkept: number;
  refused: readonly Refused[];
  held: 'no network' | 'signed out' | 'server trouble' | 'another coach' | null;
  /** What the server has said of its trouble; null where it has none, or said nothing. */
  trouble: string | null;
}

export const calm: SyncState = {
  looked: true,
  waiting: 0,
  unkept: 0,
  refused: [],
  held: null,
  trouble: null,
};

const whyHeld: Readonly<Record<NonNullable<SyncState['held']>, string>> = {
  'no network': ' for a network',
  'signed out': ': sign in to send',
  'server trouble': ': the server has trouble',
  'another coach': ' until the coach who logged them signs in here',
};

/** The sync state in words that are always true. */
export function syncWords({ looked, waiting, unkept, refused, held }: SyncState): string {
  if (!looked && waiting === 0) return 'checking what is here …';
  const parts: string[] = [];
  if (waiting > 0) parts.push(`${waiting} waiting${held === null ? '' : whyHeld[held]}`);
  if (unkept > 0) parts.push(`this device is full: ${unkept} not stored, keep this page open`);
  if (refused.length > 0) parts.push(`${refused.length} refused`);
  return parts.length > 0 ? parts.join(', ') : 'all saved';
}
