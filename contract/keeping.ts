import { Instant } from '@ulkret/core/rep';
import { z } from 'zod';
import { define } from './define';

export const KeptBackup = z.object({
  name: z.string(),
  madeAt: Instant,
  bytes: z.int().min(0),
  /** When it was last restored and compared. */
  triedAt: Instant.nullable().default(null),
});
export type KeptBackup = z.infer<typeof KeptBackup>;

/** The state of this server, for its admin; nothing about people. */
export const Keeping = z.object({
  version: z.string(),
  /** Null where somebody else makes the backups. */
  kept: z
    .object({
      /** The latest first. */
      backups: z.array(KeptBackup),
      folder: z.string(),
      diskFreeBytes: z.number().min(0),
    })
    .nullable(),
  databaseBytes: z.number().min(0),
  /** What is wrong, a sentence each; nothing where all is well. */
  wrong: z.array(z.string()),
});
export type Keeping = z.infer<typeof Keeping>;

export const keepingEndpoints = {
  health: define({
    method: 'get',
    path: '/api/health',
    who: 'anyone',
    summary: 'Is the server up and its database reachable? With any trouble of the backups',
    output: () =>
      z.object({
        status: z.enum(['ok', 'trouble']),
        version: z.string(),
        database: z.literal('ok'),
        wrong: z.array(z.string()),
      }),
  }),
  keeping: define({
    method: 'get',
    path: '/api/keeping',
    who: 'operator',
    summary: 'Existing backups, free disk space, and any trouble',
    output: () => Keeping,
  }),
  backUp: define({
    method: 'post',
    path: '/api/keeping/backups',
    who: 'operator',
    summary: 'Make a backup now',
    output: () => Keeping,
  }),
  tryBackup: define({
    method: 'post',
    path: '/api/keeping/backups/:name/try',
    who: 'operator',
    summary: 'Test a backup: restore it into a scratch copy, verify it row by row, delete the copy',
    params: () => z.object({ name: z.string().min(1).max(80) }),
    output: () => z.object({ name: z.string(), rows: z.int().min(0) }),
  }),
  exportAcademy: define({
    method: 'get',
    path: '/api/export/academy.zip',
    who: 'head',
    summary:
      'The whole academy as one open archive (ulkret.academy/1): people, library, classes, rules and every fact as JSON, with schemas, and tables for a spreadsheet',
    output: () => z.string(),
    outputType: 'application/zip',
    watched: { as: 'took out the academy' },
    again: true,
  }),
  importAcademy: define({
    method: 'post',
    path: '/api/import/academy',
    who: 'head',
    summary:
      'Import a whole academy from its archive, all of it or nothing; refused if this one has people, classes or reps',
    body: () => z.string(),
    bodyType: 'application/zip',
    watched: { as: 'brought an academy in' },
    output: () =>
      z.object({
        name: z.string(),
        /** The imported items of each kind. */
        items: z.record(z.string(), z.int().min(0)),
        /** Those who sign in elsewhere on this server by the same email, and have to be invited under another one. */
        withoutEmail: z.array(z.string()),
      }),
  }),
} as const;
