import { within } from '../db/within';
import { doJob, type Job } from '../transfers/transfers';
import { came } from './came';
import { ownDatabase } from './database';

const db = ownDatabase(1, 60_000);

/** Does a job on an open file of the process. */
export default ({ job, fd }: { job: Job; fd: number }) => came(within(job.of[0], () => doJob(db, job, fd)));
