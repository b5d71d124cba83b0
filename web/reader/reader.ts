import { expose } from 'comlink';
import { ApiRefusal } from '../api/ask';
import { type ReadingAnswer, type Order, readingsOf } from './asking';

/** Errors lose their class on the way to the page, so a refusal travels as data. */
export type Reply =
  { is: 'read'; value: ReadingAnswer } | { is: 'refused'; status: number; message: string; todo: string };

/** Fetches and checks readings for the pages, off their thread: one of a squad is a thousand numbers. */
class Reader {
  async readings(order: Order): Promise<Reply> {
    try {
      return { is: 'read', value: await readingsOf(order) };
    } catch (error) {
      if (!(error instanceof ApiRefusal)) throw error;
      return { is: 'refused', status: error.status, message: error.message, todo: error.todo };
    }
  }
}

export type { Reader };
expose(new Reader());
