import { afterEach, describe, expect, test } from '@jest/globals';
import { endpoints } from '@ulkret/contract';
import { ApiRefusal, ask } from './ask';

const answering = (fetch: typeof globalThis.fetch) => Object.assign(globalThis, { fetch });
const refusalOf = (asked: Promise<unknown>) =>
  asked.then(
    () => null,
    (error: unknown) => (error instanceof ApiRefusal ? error : Promise.reject(error)),
  );

describe('asking the server', () => {
  const { fetch } = globalThis;
  afterEach(() => {
    answering(fetch);
  });

  test('gives a request up that hangs, and says that there is no network', async () => {
    answering(
      (_, options) =>
        new Promise((_resolve, reject) => {
          options!.signal!.addEventListener('abort', () => reject(new Error('given up')));
        }),
    );
    expect(await refusalOf(ask(endpoints.health, {}, 20))).toMatchObject({ status: 0 });
  });

  test('says the same where the answer breaks off', async () => {
    const broken = new ReadableStream({ pull: (controller) => controller.error(new Error('gone')) });
    answering(() => Promise.resolve(new Response(broken)));
    expect(await refusalOf(ask(endpoints.health))).toMatchObject({ status: 0 });
  });

  test('says what the server refused, and where something else answered, with which number', async () => {
    answering(() => Promise.resolve(Response.json({ error: 'No.', todo: 'Ask.' }, { status: 400 })));
    expect(await refusalOf(ask(endpoints.health))).toMatchObject({
      status: 400,
      message: 'No.',
      todo: 'Ask.',
    });
    answering(() => Promise.resolve(new Response('<h1>Bad gateway</h1>', { status: 502 })));
    expect(await refusalOf(ask(endpoints.health))).toMatchObject({
      status: 502,
      message: 'The server answered with 502.',
    });
  });
});
