import type { Id } from '@ulkret/core/breakdown';
import { eachList, factLists } from '@ulkret/core/facts';
import type { ItemAnswer } from '@ulkret/contract';
import type { Db } from '../db/connect';
import { type Batch, isOfTheData, type Sender, takeEach, takeFacts } from './take';

interface Waiting {
  batch: Batch;
  size: number;
  resolve: (answers: ItemAnswer[]) => void;
  reject: (reason: unknown) => void;
}

/** Most items in one transaction; a larger batch goes alone. */
const mostTogether = 1000;

const sizeOf = (batch: Batch): number =>
  factLists().reduce((sum, list) => sum + (batch[list]?.length ?? 0), 0);

/** What each was answered, of the answers to all of them: a list at a time, in the order in which they came. */
function shares(of: readonly Waiting[], answers: readonly ItemAnswer[]): ItemAnswer[][] {
  let next = 0;
  const parts = of.map((): ItemAnswer[] => []);
  for (const list of factLists())
    for (const [i, { batch }] of of.entries())
      for (let n = batch[list]?.length ?? 0; n > 0; n--) parts[i]!.push(answers[next++]!);
  return parts;
}

/**
 * Takes batches as `takeEach` does. What comes from one sender while a batch of theirs is on its way waits for it, and goes
 * together, in one transaction: the more devices send at once, the less each of them costs. Nobody waits for what is not
 * there yet, and each is answered once what they have sent is kept.
 */
export function takeTogether(db: Db): (academyId: Id, batch: Batch, sender: Sender) => Promise<ItemAnswer[]> {
  const lanes = new Map<string, Waiting[]>();

  async function takeAll(academyId: Id, those: readonly Waiting[], sender: Sender): Promise<void> {
    const each = async () => {
      for (const { batch, resolve, reject } of those)
        await takeEach(db, academyId, batch, sender).then(resolve, reject);
    };
    if (those.length === 1) return each();
    try {
      const all = eachList((list) => those.flatMap(({ batch }) => batch[list] ?? []));
      const parts = shares(those, await takeFacts(db, academyId, all, sender));
      for (const [i, { resolve }] of those.entries()) resolve(parts[i]!);
    } catch (error) {
      // One that the store cannot hold costs no other device its own.
      if (isOfTheData(error)) return each();
      for (const { reject } of those) reject(error);
    }
  }

  /** As many of those who wait as go together, from the first on. */
  function nextOf(lane: Waiting[]): Waiting[] {
    let size = 0;
    const more = lane.findIndex((one) => (size += one.size) > mostTogether);
    return lane.splice(0, more === -1 ? lane.length : more);
  }

  return (academyId, batch, sender) => {
    const size = sizeOf(batch);
    if (size > mostTogether) return takeEach(db, academyId, batch, sender);
    const key = JSON.stringify([academyId, sender]);
    return new Promise((resolve, reject) => {
      const one = { batch, size, resolve, reject };
      const open = lanes.get(key);
      if (open) {
        open.push(one);
        return;
      }
      const lane = [one];
      lanes.set(key, lane);
      const run = async () => {
        while (lane.length > 0) await takeAll(academyId, nextOf(lane), sender);
        lanes.delete(key);
      };
      void run();
    });
  };
}
