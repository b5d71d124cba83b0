import { brokenLinks, CheckpointKind, type Draft, unitsOf } from './breakdown';
import { placeOf } from './causes';
import type { Id } from './ids';
import { bareSideWords } from './sides';
import type { Technique } from './technique';

/** Where in a draft a finding is: the way to its field, from the draft (or, with `technique` first, from the technique). */
export type FieldPath = readonly (string | number)[];

export interface Finding {
  /** An error keeps an edition from being published; a warning does not. */
  severity: 'error' | 'warning';
  path: FieldPath;
  /** What is wrong, and what to do about it. */
  text: string;
}

/** What the critique must know of the rest of the library: the checkpoints of each technique, or null where there is none. */
export type Library = (technique: Id) => readonly Id[] | null;

/** Belief from which on a checkpoint should have a mistake recorded. */
const weightyBelief = 20;

const stateWords =
  /\b(is|are|lies?|lay|stands?|sits?|rests?|holds?|held|touch(es)?|press(es)?|points?|cross(es)?|face[sd]?|looks?|covers?|meets?|reach(es)?|stays?|stops?|blocks?|pins?|closes?|moves?|comes?|keeps?|hangs?|shows?|grips?|wraps?|hooks?|carries|bears|makes?|lifts?|has|have|leads?|forms?|turns?|traps?|joins?|goes|leaves|sticks?|supports?|hugs?|locks?|drives?|pushes|pulls?|posts?|hides?|extends?|bends?)\b/i;

/** Does the criterion join two statements, each with a verb of its own? */
function joinsTwo(criterion: string): boolean {
  const parts = criterion.split(/\band\b|;/i);
  return parts.length > 1 && parts.filter((part) => stateWords.test(part)).length > 1;
}

const plain = (text: string): string =>
  text
    .trim()
    .toLocaleLowerCase()
    .replace(/[.!]+$/, '');

/**
 * What a program can see to be wrong with a breakdown. Every finding leads to its field and says what to do. An empty list
 * does not mean that the breakdown is good, only that nothing is plainly missing or contradicts itself.
 */
export function critique(draft: Draft, technique: Technique, library: Library): Finding[] {
  const findings: Finding[] = [];
  const error = (path: FieldPath, text: string) => findings.push({ severity: 'error', path, text });
  const warn = (path: FieldPath, text: string) => findings.push({ severity: 'warning', path, text });
  const { checkpoints, mistakes, defences } = draft;
  const number = (id: Id) => `${placeOf(draft, id) + 1}`;
  const ids = checkpoints.map(({ id }) => id);

  if (technique.name.trim() === '') error(['technique', 'name'], 'The technique has no name: give it one.');
  if (checkpoints.length === 0)
    error(['checkpoints'], 'There is no checkpoint yet: add the first thing that must become true.');
  for (const { path, message } of brokenLinks(draft)) {
    const order = path[0] === 'checkpoints' && path[2] === 'after';
    error(
      path,
      order
        ? `The order breaks an "after": ${message}. Move one of the two, or take the link away.`
        : `${message[0]!.toUpperCase()}${message.slice(1)}: choose one that is there.`,
    );
  }
  checkCycle(draft, error);

  const seen = new Map<string, number>();
  checkpoints.forEach((checkpoint, i) => {
    const at = (...rest: FieldPath): FieldPath => ['checkpoints', i, ...rest];
    const { title, criterion, proofs, belief, tolerance, variants } = checkpoint;
    if (title.trim() === '') error(at('title'), `Checkpoint ${i + 1} has no title: say it as a short order.`);
    if (criterion.trim() === '')
      error(
        at('criterion'),
        `Checkpoint ${i + 1} has no criterion: say one thing that is true when it holds.`,
      );
    else if (!stateWords.test(criterion))
      warn(
        at('criterion'),
        'Nobody can see whether this holds: say what touches, lies, points or presses where.',
      );
    else if (joinsTwo(criterion))
      warn(
        at('criterion'),
        'Two statements are joined: keep one here and make the other a proof or a checkpoint.',
      );
    for (const [field, text] of [
      ['title', title],
      ['criterion', criterion],
    ] as const) {
      const key = `${field} ${plain(text)}`;
      const earlier = seen.get(key);
      if (text.trim() !== '' && earlier !== undefined)
        warn(at(field), `Checkpoint ${earlier + 1} says the same: join them, or say what differs.`);
      else seen.set(key, i);
    }
    if (proofs.length === 0)
      error(
        at('proofs'),
        `Nothing tells whether checkpoint ${i + 1} holds: add what one sees, feels, asks or measures.`,
      );
    proofs.forEach((proof, k) => {
      if (proof.text.trim() === '')
        error(at('proofs', k, 'text'), 'This proof is empty: say it, or take it away.');
    });
    if (
      belief >= weightyBelief &&
      !mistakes.some((one) => one.at === checkpoint.id || one.root === checkpoint.id)
    )
      warn(
        at('belief'),
        `You give this ${belief} of 100, yet no mistake is recorded here: add how it usually goes wrong.`,
      );
    for (const [place, one] of [
      [at('tolerance'), tolerance] as const,
      ...variants.map((v, k) => [at('variants', k, 'tolerance'), v.tolerance] as const),
    ])
      if (one) {
        if (one.low > one.high)
          error([...place, 'low'], `From ${one.low} to ${one.high} is empty: swap the two.`);
        if (!unitsOf[one.quantity].includes(one.unit))
          error(
            place,
            `A ${one.quantity} is not measured in ${one.unit}: use ${unitsOf[one.quantity].join(' or ')}.`,
          );
      }
  });

  const total = checkpoints.reduce((sum, { belief }) => sum + belief, 0);
  if (checkpoints.length > 0 && Math.abs(total - 100) > 0.01)
    error(
      ['checkpoints'],
      `The beliefs add up to ${Math.round(total * 10) / 10}, not 100: move one and the others follow.`,
    );
  if (technique.kind === 'submission')
    for (const kind of CheckpointKind.options)
      if (checkpoints.length > 0 && !checkpoints.some((one) => one.kind === kind))
        warn(
          ['checkpoints'],
          `No checkpoint is of kind ${kind}: is it really not needed, or is it only not written down?`,
        );

  mistakes.forEach((mistake, i) => {
    const at = (...rest: FieldPath): FieldPath => ['mistakes', i, ...rest];
    if (mistake.title.trim() === '') error(at('title'), 'This mistake has no name: say what one sees.');
    if (mistake.cue.trim() === '') warn(at('cue'), 'This mistake has no cue: say the words that mend it.');
    if (
      ids.includes(mistake.at) &&
      ids.includes(mistake.root) &&
      placeOf(draft, mistake.root) > placeOf(draft, mistake.at)
    )
      error(
        at('root'),
        `Its root (${number(mistake.root)}) comes after its symptom (${number(mistake.at)}): causes come first, so turn them round.`,
      );
    if (/\b(squeeze|pull|push)\w* harder\b/i.test(mistake.cue))
      warn(at('cue'), 'Squeezing harder is not a correction: say what to move.');
  });

  defences.forEach((defence, i) => {
    const at = (...rest: FieldPath): FieldPath => ['defences', i, ...rest];
    if (defence.title.trim() === '')
      error(at('title'), 'This defence has no name: say what the partner does.');
    if (defence.signal.trim() === '')
      warn(at('signal'), 'Nothing tells that it is coming: say the first thing one notices.');
    if (defence.answers.length === 0)
      warn(
        at('answers'),
        'No answer is recorded: the partner wins here each time. Add one: mend, switch or retreat.',
      );
    if (
      ids.includes(defence.opens) &&
      ids.includes(defence.closes) &&
      placeOf(draft, defence.closes) < placeOf(draft, defence.opens)
    )
      error(
        at('closes'),
        `It closes (${number(defence.closes)}) before it opens (${number(defence.opens)}): turn them round.`,
      );
    if (defence.becomes !== undefined && !defences.some(({ id }) => id === defence.becomes))
      error(at('becomes'), 'It turns into a defence that is not here: choose another.');
    const points = (technique_: Id | undefined, checkpoint: Id | undefined, path: FieldPath) => {
      if (technique_ === undefined) return;
      const known = technique_ === technique.id ? ids : library(technique_);
      if (!known) error(path, `The library has no technique "${technique_}": choose one that is there.`);
      else if (checkpoint !== undefined && !known.includes(checkpoint))
        error(path, `"${technique_}" has no checkpoint "${checkpoint}": choose one that is there.`);
    };
    points(defence.brokenDownIn, undefined, at('brokenDownIn'));
    defence.answers.forEach((answer, k) => {
      if (answer.how.trim() === '') warn(at('answers', k, 'how'), 'This answer does not say how.');
      if (answer.do === 'switch') points(answer.technique, answer.enteredAt, at('answers', k, 'technique'));
    });
  });
  draft.exits?.forEach(({ technique: to, enteredAt }, i) => {
    const known = library(to);
    if (!known)
      error(['exits', i, 'technique'], `The library has no technique "${to}": choose one that is there.`);
    else if (enteredAt !== undefined && !known.includes(enteredAt))
      error(['exits', i, 'enteredAt'], `"${to}" has no checkpoint "${enteredAt}": choose one that is there.`);
  });

  if (technique.safetyNote.trim() === '' && (technique.loadSpeed === 'fast' || technique.ruleTags.length > 0))
    error(
      ['technique', 'safetyNote'],
      'It comes on fast or is restricted, and nothing is said about safety: write how to put it on, and when to stop.',
    );
  else if (technique.safetyNote.trim() === '' && technique.kind === 'submission')
    warn(
      ['technique', 'safetyNote'],
      'Nothing is said about safety: write what it can hurt and how slowly it is put on.',
    );

  for (const { path, text } of textsOf(draft))
    for (const word of bareSideWords(text))
      warn(
        path,
        `"${word}" will not turn round for the other side: write {${word}}, or near, far, top or bottom.`,
      );
  return findings;
}

/** "After" links that lead back to where they began, whatever the order is. */
function checkCycle(draft: Draft, error: (path: FieldPath, text: string) => void): void {
  const afterOf = new Map(draft.checkpoints.map(({ id, after }) => [id, after]));
  draft.checkpoints.forEach(({ id }, i) => {
    const open = [...(afterOf.get(id) ?? [])];
    const visited = new Set<Id>();
    while (open.length > 0) {
      const next = open.pop()!;
      if (next === id) {
        error(
          ['checkpoints', i, 'after'],
          `Checkpoint ${i + 1} waits for itself, through others: take one of the links away.`,
        );
        return;
      }
      if (!visited.has(next)) {
        visited.add(next);
        open.push(...(afterOf.get(next) ?? []));
      }
    }
  });
}

/** Fields that hold names, numbers or choices: words in them are not read for a side. */
const notProse = new Set([
  'id',
  'technique',
  'author',
  'source',
  'date',
  'kind',
  'by',
  'do',
  'type',
  'ahead',
  'unit',
  'quantity',
  'on',
  'fact',
  'is',
  'at',
  'root',
  'opens',
  'closes',
  'after',
  'backTo',
  'enteredAt',
  'brokenDownIn',
  'becomes',
  'joinsAt',
  'attire',
  'ruleTags',
  'retired',
]);

/** Every text of a draft that is read aloud, with the way to its field. */
export function textsOf(draft: Draft): { path: FieldPath; text: string }[] {
  const found: { path: FieldPath; text: string }[] = [];
  const visit = (value: unknown, path: FieldPath): void => {
    if (typeof value === 'string') found.push({ path, text: value });
    else if (Array.isArray(value)) value.forEach((one, i) => visit(one, [...path, i]));
    else if (value !== null && typeof value === 'object')
      for (const [key, one] of Object.entries(value)) {
        // A window's opens and closes are prose; a defence's are checkpoints.
        const prose = !notProse.has(key) || path.at(-1) === 'window';
        if (prose) visit(one, [...path, key]);
      }
  };
  visit(draft, []);
  return found;
}

/** May this be published? */
export const publishable = (findings: readonly Finding[]): boolean =>
  findings.every(({ severity }) => severity !== 'error');
