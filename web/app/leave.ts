import { forgetAnswers } from '../api/store';
import { forgetSaved } from '../device/entries';

/** Forgets here what the server has; what waits to be sent stays for its coach. */
export const forget = (): Promise<unknown> =>
  Promise.all([forgetAnswers(), forgetSaved()]).catch(() => undefined);

/** Leaves for good. */
export async function leave(): Promise<void> {
  await forget();
  // A reload lets go of everything that this page still knows.
  window.location.assign('/');
}
