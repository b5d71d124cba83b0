import { parseArgs } from 'node:util';
import { addInvitation } from '@ulkret/server/access/invitations';
import { coachToLetBack } from '@ulkret/server/access/coaches';
import { connect } from '@ulkret/server/db/connect';
import { storeOf } from './data-folder';
import { Trouble } from './trouble';

const usage = `npm run reset-password -- EMAIL [--data DIR]
  EMAIL       of somebody who may sign in, or might once; prints a link by which they choose a new password, once
  --data DIR  the data folder (default .data); DATABASE_URL in the environment is used instead where it is set`;

/** `npm run reset-password`: a way back in for somebody who is locked out, from the machine that keeps the data. */
export async function run(args: string[]): Promise<void> {
  let given;
  try {
    given = parseArgs({ args, allowPositionals: true, options: { data: { type: 'string' } } });
  } catch (error) {
    throw new Trouble(`${(error as Error).message}\n${usage}`);
  }
  const [email, more] = given.positionals;
  if (email === undefined || more !== undefined) throw new Trouble(usage);
  const { url, close } = await storeOf(given.values.data);
  const { db, close: leave } = connect(url);
  try {
    const found = await coachToLetBack(db, email);
    if (!found) throw new Trouble(`Nobody signs in with ${email}: nothing was changed.`);
    const { academyId, id, name, role, student } = found;
    const now = new Date().toISOString();
    const { secret, expiresAt } = await addInvitation(db, academyId, {
      role,
      name,
      student,
      coach: id,
      by: id,
      now,
    });
    console.log(`${name} chooses a new password at this address of your Ulkret, once, until ${expiresAt}:`);
    console.log(`/join#${secret}`);
  } finally {
    await leave();
    close();
  }
}
