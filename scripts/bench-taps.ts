import { library } from '@ulkret/demo';
import type pg from 'pg';
import { uuidv7 } from 'uuidv7';

/** What is drilled in a benchmark of the demo academy. */
export const drilled = library.find(({ technique }) => technique.id === 'rear-strangle')!.editions[0]!;

/** The ids of students of the demo: those who attack, and the last, who partners all of them. */
export async function someStudents(client: pg.Client): Promise<string[]> {
  const { rows } = await client.query<{ id: string }>('select id from students limit 18');
  return rows.map(({ id }) => id);
}

/** A rep as a device sends it just now: the n-th student attacks; every second one finishes, the others stop at the i-th checkpoint. */
export const tapped = (session: string, students: readonly string[], n: number, i: number) => ({
  id: uuidv7(),
  session,
  at: new Date().toISOString(),
  technique: drilled.technique,
  edition: 1,
  student: students[n % (students.length - 1)]!,
  partner: students.at(-1)!,
  side: 'right',
  rung: 2,
  from: null,
  to: null,
  soft: [],
  cause: null,
  observer: 'maren',
  source: 'mat',
  note: '',
  ...(i % 2 ? { outcome: 'finished' } : { outcome: 'stopped', stop: drilled.checkpoints[i]!.id }),
});
