import type { Endpoint, OutputOf } from '@ulkret/contract';
import { addressOf, ApiRefusal, ask, type Input } from './ask';
import { wasAsked, wasRecalled } from './recalled';
import { keepAnswer, keptAnswer } from './store';

/** Asks, and where the server cannot be reached answers with what it last said, if this device has kept it. */
export async function askOrRecall<E extends Endpoint>(
  academy: string,
  endpoint: E,
  input: Input<E>,
): Promise<OutputOf<E>> {
  const address = addressOf(endpoint, input);
  try {
    const output = await ask(endpoint, input);
    // A device that is full goes without.
    void keepAnswer(academy, address, output).catch(() => undefined);
    wasAsked();
    return output;
  } catch (error) {
    if (!(error instanceof ApiRefusal) || (error.status !== 0 && error.status < 500)) throw error;
    const before = await keptAnswer(academy, address).catch(() => null);
    if (!before) throw error;
    wasRecalled(before.at);
    return before.body as OutputOf<E>;
  }
}
