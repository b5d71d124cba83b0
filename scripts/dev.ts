import path from 'node:path';
import { run as start } from './start';

/** `npm run dev`: the server as `npm start` runs it, and the web app from its sources on port 5173, rebuilt as they change. */
export async function run(options: string[]): Promise<void> {
  await start(options);
  const { createServer } = await import('vite');
  const vite = await createServer({ root: path.resolve('web') });
  await vite.listen();
  vite.printUrls();
}
