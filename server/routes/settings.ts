import type { RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { WholeAcademy } from '../keeping/academies';
import type { Keeper } from '../keeping/keeper';
import type { Live } from '../live/live';
import type { Readings } from '../readings/read';
import type { Transfers } from '../transfers/transfers';

/** What a server is started with; nothing of it is read from the environment. */
export interface Settings {
  version: string;
  /** Folder of the built web app; null serves the API alone. */
  webRoot: string | null;
  /** Told on the sign-in page where the demo academy is loaded. */
  demoSignIn: { email: string; password: string } | null;
  /** The code printed by the start command: the first coach on another machine must know it. Null asks nobody. */
  firstCode: string | null;
  /** A proxy before it says who asks, and whether by HTTPS; what anybody else says of that counts for nothing. */
  trustProxy: boolean;
  /** The contact for security reports (a mailto: or https: address); null for none. */
  security: string | null;
  /** What is wrong with the database, in one sentence, as far as the start command knows; null if nothing is. */
  whatIsWrong(): string | null;
  /** Breakdowns that a new academy can start with. */
  starter: WholeAcademy['techniques'];
  /** Null keeps quiet. */
  log: Logger | null;
  /** Where readings are made. */
  readings: Readings;
  /** Hands on to somebody else who only looks; null where this server answers them itself. */
  looks: RequestHandler | null;
  /** Where whole files are made and read. */
  transfers: Transfers;
  /** What devices send, for the others to hear; null where they have to ask. */
  live: Live | null;
  /** Who makes the backups; null where somebody else does. */
  keeper: Keeper | null;
}
