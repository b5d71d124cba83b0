import nlp from 'compromise/two';

/**
 * Grappling verbs that the language library mistakes for nouns. After a person or a thing and before an object, each
 * is the verb.
 */
const done = new Set(
  (
    'pinch squeeze cut post hook catch slide push crank jerk clamp cup pin trap wedge frame scoop thread bridge shrug flare ' +
    'tuck sink drive grip wrap lock lift pull press hug touch point face block cover anchor stack pike staple turn rest bend ' +
    'cross reach stay close hold lie sit stand clear pass swim shoot lead carry climb circle fold move come go'
  ).split(' '),
);
const parts = (
  'hip knee elbow hand arm forearm shoulder wrist foot heel toe finger thumb palm leg shin thigh ankle chest spine back head ' +
  'chin jaw ear neck throat rib bone collar sleeve belt lapel cloth hook grip frame lock'
).split(' ');
nlp.addWords(
  Object.fromEntries(
    parts.flatMap((part): [string, string][] => [
      [part, 'Singular'],
      [part === 'foot' ? 'feet' : `${part}s`, 'Plural'],
    ]),
  ),
);

const stems = (word: string): string[] => {
  const plain = word.toLowerCase().replace(/[^a-z]/g, '');
  return [plain, plain.replace(/s$/, ''), plain.replace(/es$/, ''), plain.replace(/ies$/, 'y')];
};
const isBare = (word: string): boolean => done.has(stems(word)[0]!);
const isDone = (word: string): boolean => stems(word).some((stem) => done.has(stem));

interface Term {
  text: string;
  tags: ReadonlySet<string>;
}

const read = new Map<string, readonly Term[]>();
/** As many texts as a large breakdown has, several times: what was read once is not read again while it is written. */
const mostRead = 4000;

/** The words of a text with what they are. */
function termsOf(text: string): readonly Term[] {
  const known = read.get(text);
  if (known) return known;
  const terms = nlp(text)
    .termList()
    .map(({ text: word, tags }): Term => ({ text: word, tags: tags as Set<string> }));
  if (read.size >= mostRead) read.clear();
  read.set(text, terms);
  return terms;
}

const is = (term: Term | undefined, ...tags: string[]): boolean =>
  term !== undefined && tags.some((tag) => term.tags.has(tag));

/** Is the word at a place what somebody or something does or is? */
function isVerb(terms: readonly Term[], at: number): boolean {
  const [before, here, after] = [terms[at - 1], terms[at]!, terms[at + 1]];
  if (is(here, 'Copula', 'Modal') || /^(is|are|was|were|has|have|does|cannot)\W*$/i.test(here.text))
    return true;
  const afterThing = is(before, 'Noun', 'Pronoun', 'Adverb') && !is(before, 'Possessive');
  // "They lie": a pronoun does what several do.
  if (isBare(here.text) && is(before, 'Pronoun') && !is(before, 'Possessive')) return true;
  // Of what is done one thing "pinches" and several "pinch": anything else is the name of a grip.
  if (isDone(here.text) && is(before, 'Noun') && !is(before, 'Possessive') && !is(after, 'Copula', 'Modal'))
    return (
      is(before, 'Plural') === isBare(here.text) ||
      // "The knuckles of your hand touch", "both knees and one hand touch": the subject is farther off, or plural.
      terms.slice(0, at).some(({ text }) => /^(of|and)$/i.test(text))
    );
  if (isDone(here.text)) return is(before, 'Pronoun', 'Adverb') && is(here, 'Verb');
  return is(here, 'Verb') && !is(here, 'Gerund', 'Particle', 'PhrasalVerb') && afterThing;
}

/** Does a text state something, so that it is true or false? */
export const statesSomething = (text: string): boolean => {
  const terms = termsOf(text);
  return terms.some((_, at) => isVerb(terms, at));
};

const isThing = (term: Term | undefined): boolean =>
  term !== undefined &&
  ((is(term, 'Noun') && !is(term, 'Possessive')) || stems(term.text).some((stem) => parts.includes(stem)));

/** Something that is so while something else is: "with the palm up", "with your hips turning". */
function isBesides(text: string): boolean {
  const terms = termsOf(text);
  const thing = terms.findIndex(isThing);
  if (thing < 0 || thing > 3) return false;
  let last = thing;
  while (isThing(terms[last + 1])) last++;
  const how = terms[last + 1];
  return (
    how !== undefined &&
    (/^(up|down|in|out|over|under|high|low|apart|together|forward|back)\W*$/i.test(how.text) ||
      is(how, 'Gerund', 'PastTense', 'Participle') ||
      (is(how, 'Adjective') && terms.length === last + 2))
  );
}

/** A second thing that is done by who has done the first: "… and pulls it". */
function goesOn(text: string): boolean {
  const [first, second] = termsOf(text.trim());
  if (!first || !second || isThing(first)) return false;
  return !isBare(first.text) && isDone(first.text);
}

const joints = /;|\b(?:and|while|whereas|but)\b/i;

/** Are two statements joined in one? */
export function statesTwo(text: string): boolean {
  const halves = text.split(joints);
  if (halves.filter((half, i) => statesSomething(half) || (i > 0 && goesOn(half))).length > 1) return true;
  const [main, ...withs] = text.split(/\bwith\b/i);
  if (withs.length > 0 && statesSomething(main!) && withs.some(isBesides)) return true;
  // "as" joins two where it is no comparison.
  const [first, ...rest] = text.split(
    /(?<!\bas \w+) \bas\b (?!if\b|far\b|deep\b|hard\b|much\b|long\b|you can\b|possible\b)/i,
  );
  return rest.length > 0 && statesSomething(first!) && rest.some(statesSomething);
}

const opinions =
  /\b(good|great|nice|nicely|perfect|perfectly|proper|properly|correct|correctly|well|solid|decent|bad|badly|poor|poorly|beautiful|ideal|optimal|effective|effectively|comfortable|right way)\b/i;
const amplified = /\b(really|very|quite|pretty|super|extremely|totally) (\w+)\b/i;

/** A word of a text that says how good something is rather than what is there; null where there is none. */
export const opinionIn = (text: string): string | null =>
  amplified.exec(text)?.[0] ?? opinions.exec(text)?.[0] ?? null;
