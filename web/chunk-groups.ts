import react from '@vitejs/plugin-react';
import { build, type Plugin, type Rolldown, type UserConfig } from 'vite';

/** What a device opens with: the way in, the frame of all pages, Today and the Mat. */
const openedFirst = ['app/SignIn.tsx', 'app/Inside.tsx', 'today/Today.tsx', 'mat/live/Live.tsx'];

/**
 * Which of the first pages, the entry before them, need each module. What a page needs is what is left of it once all that nobody
 * uses is gone, which only a build can tell.
 */
async function needing(root: UserConfig['root']): Promise<ReadonlyMap<string, readonly number[]>> {
  const { output } = (await build({
    configFile: false,
    root,
    logLevel: 'error',
    plugins: [react()],
    worker: { format: 'es' },
    build: { write: false, minify: false, target: 'es2022', reportCompressedSize: false },
  })) as Rolldown.RolldownOutput;
  const files = new Map(output.flatMap((one) => (one.type === 'chunk' ? [[one.fileName, one]] : [])));
  const pages = [...files.values()].filter(
    ({ isEntry, facadeModuleId }) =>
      isEntry || openedFirst.some((page) => facadeModuleId?.endsWith(`/web/${page}`)),
  );
  if (pages.length !== 1 + openedFirst.length)
    throw new Error(`Some of ${openedFirst.join(', ')} are no pages of their own.`);
  const needs = new Map<string, number[]>();
  for (const [at, page] of pages.entries()) {
    const asked = new Set([page.fileName]);
    for (const file of asked) for (const other of files.get(file)!.imports) asked.add(other);
    for (const file of asked)
      for (const module of Object.keys(files.get(file)!.modules))
        needs.set(module, [...(needs.get(module) ?? []), at]);
  }
  return needs;
}

/**
 * Puts what the same of the first pages need into one file, so that each of them comes in a handful of files and carries
 * nothing that only another one needs. The bundler's own way is a file for every set of pages of the app that share something,
 * some sixty of them for the Mat, and a slow phone takes a second to ask for them. A file asks only for files that more pages
 * need than itself, so no two ask for each other.
 */
export const chunkGroups = (): Plugin => ({
  name: 'chunk-groups',
  apply: 'build',
  async config({ root }) {
    const needs = await needing(root);
    const name = (module: string) => {
      const pages = needs.get(module);
      return pages ? `first-${pages.join('')}` : null;
    };
    return {
      build: {
        rolldownOptions: {
          output: {
            codeSplitting: { includeDependenciesRecursively: false, groups: [{ name, debugName: 'first' }] },
          },
        },
      },
    };
  },
});
