import { Refused } from '../refused';

/** Under this score of 0 to 4 a guess takes fewer than 10⁸ tries (the library's own scale). */
const least = 3;

/** The judge knows forty thousand words: it comes in when somebody first chooses a password. */
async function judgeComesIn() {
  const [{ ZxcvbnFactory }, { adjacencyGraphs: graphs, dictionary }] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
  ]);
  return new ZxcvbnFactory({ graphs, dictionary });
}
let judge: ReturnType<typeof judgeComesIn> | undefined;

/** Refuses a password that is guessed soon: a common one, a row of keys, or one's own name. */
export async function checkStrength(password: string, own: readonly string[]): Promise<void> {
  const zxcvbn = await (judge ??= judgeComesIn());
  const words = own.flatMap((one) => one.split(/[\s@.]+/));
  if (zxcvbn.check(password.slice(0, 100), words).score < least)
    throw new Refused(
      422,
      'That password is easy to guess.',
      'Use a longer one: four words that have nothing to do with each other or with you. Nothing was changed.',
    );
}
