import { toast } from './toast';

/** Copies a text; where the browser does not let us, as over plain HTTP, it is shown to be copied by hand. */
export async function copy(text: string, done: string): Promise<void> {
  try {
    await navigator.clipboard.writeText(text);
    toast(done);
  } catch {
    toast(text);
  }
}
