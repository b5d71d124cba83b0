import type { Logger } from 'pino';
import type { WholeAcademy } from './keeping/academies';
import type { Live } from './live/live';
import type { Readings } from './readings/desk';

/** What a server is started with; nothing of it is read from the environment. */
export interface Settings {
  version: string;
  /** Folder of the built web app; null serves the API alone. */
  webRoot: string | null;
  /** Told on the sign-in page where the demo academy is loaded. */
  demoSignIn: { email: string; password: string } | null;
  /** Breakdowns that a new academy can start with. */
  starter: WholeAcademy['techniques'];
  /** Null keeps quiet. */
  log: Logger | null;
  /** Where readings are made. */
  readings: Readings;
  /** What devices send, for the others to hear; null where they have to ask. */
  live: Live | null;
}
