import Papa from 'papaparse';
import type { Rep } from '../rep';

/** The columns of a file of reps, in order. Documented in docs/formats.md. */
export const repColumns = [
  'id',
  'session',
  'at',
  'technique',
  'edition',
  'student',
  'partner',
  'side',
  'rung',
  'from',
  'to',
  'outcome',
  'stop',
  'soft',
  'cause',
  'observer',
  'source',
  'note',
  'ways',
  'task',
  'met',
  'measured',
  'timed',
  'entry',
  'finish',
  'by',
  'follows',
  'device',
] as const;
export type RepColumn = (typeof repColumns)[number];

// A spreadsheet runs text that starts like a formula. One apostrophe is put before it, and taken off on the way in.
export const formula = /^'*[=+\-@\t\r]/;
const guard = (text: string): string => (formula.test(text) ? `'${text}` : text);

const stopCell = (rep: Rep): string => {
  switch (rep.outcome) {
    case 'finished':
      return '';
    case 'stopped':
      return rep.stop;
    case 'forced':
      return rep.failed.join(';');
    case 'not judged':
      return rep.heldTo ?? '';
    case 'left':
      return rep.heldTo ?? '';
  }
};

/** Reps as CSV (RFC 4180: comma, CRLF, quotes doubled), in the order given, with their header or to be put after others. `readRepsCsv` reads it back exactly. */
export const writeRepsCsv = (reps: readonly Rep[], header = true): string =>
  reps.length === 0 && !header
    ? ''
    : `${Papa.unparse(
        {
          fields: [...repColumns],
          data: reps.map((rep) => {
            const cells: Record<RepColumn, string | number> = {
              id: rep.id,
              session: rep.session ?? '',
              at: rep.at,
              technique: rep.technique,
              edition: rep.edition,
              student: rep.student,
              partner: rep.partner ?? '',
              side: rep.side,
              rung: rep.rung,
              from: rep.from ?? '',
              to: rep.to ?? '',
              outcome: rep.outcome,
              stop: stopCell(rep),
              soft: rep.soft.join(';'),
              cause: rep.cause ?? '',
              observer: rep.observer,
              source: rep.source,
              note: guard(rep.note),
              ways: (rep.ways ?? []).join(';'),
              task: (rep.task ?? []).join(';'),
              met: (rep.met ?? [])
                .map(
                  ({ defence, answer, worked, became }) =>
                    `${defence}:${answer ?? ''}:${worked ? 'worked' : 'failed'}${became ? `:${became}` : ''}`,
                )
                .join(';'),
              measured: (rep.measured ?? [])
                .map(({ checkpoint, value }) => `${checkpoint}:${value}`)
                .join(';'),
              timed: (rep.timed ?? []).map(({ checkpoint, seconds }) => `${checkpoint}:${seconds}`).join(';'),
              entry: rep.entry ?? '',
              finish: rep.finish ?? '',
              by: rep.outcome === 'left' ? (rep.by ?? '') : '',
              follows: rep.follows
                ? [rep.follows.rep, ...(rep.follows.by ? [rep.follows.by] : [])].join(':')
                : '',
              device: guard(rep.device ?? ''),
            };
            return repColumns.map((column) => cells[column]);
          }),
        },
        { newline: '\r\n', header },
      )}\r\n`;
