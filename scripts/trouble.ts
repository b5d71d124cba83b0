/** Something that the person at the keyboard can fix. Its message is one sentence: what is wrong and what to do. */
export class Trouble extends Error {
  override name = 'Trouble';
}
