import { brokenLinks, CheckpointKind, type Draft } from '../breakdown';
import type { Id } from '../ids';
import type { FieldPath } from '../field-path';
import type { Region, RuleTag } from '../technique';
import { bareSideWords } from '../sides';
import { deadEnd, isEmpty, type Rule, saying } from './rule';
import { textsOf } from './texts';

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** Does a checkpoint wait for itself by its "after" links, whatever the order is? */
function waitsForItself({ checkpoints }: Draft, id: Id): boolean {
  const afterOf = new Map(checkpoints.map((one) => [one.id, one.after]));
  const open = [...(afterOf.get(id) ?? [])];
  const visited = new Set<Id>();
  while (open.length > 0) {
    const next = open.pop()!;
    if (next === id) return true;
    if (visited.has(next)) continue;
    visited.add(next);
    open.push(...(afterOf.get(next) ?? []));
  }
  return false;
}

/** What can be wrong with a breakdown as a whole, before its parts are looked at. */
export const ofTheWhole: readonly Rule<Draft>[] = [
  {
    name: 'a technique without a name',
    severity: 'error',
    find: (_, { technique }) =>
      saying(['technique', 'name'], isEmpty(technique.name) && 'The technique has no name: give it one.'),
  },
  {
    name: 'no checkpoint',
    severity: 'error',
    find: ({ checkpoints }) =>
      saying(
        ['checkpoints'],
        checkpoints.length === 0 && 'No checkpoints yet: add the first thing that must become true.',
      ),
  },
  {
    name: 'a link that leads nowhere',
    severity: 'error',
    *find(draft) {
      for (const { path, message } of brokenLinks(draft)) {
        const order = path[0] === 'checkpoints' && path[2] === 'after';
        yield [
          path,
          order
            ? `The order breaks an "after": ${message}. Move one of the two, or delete the link.`
            : `${capital(message)}: choose one that is there.`,
        ];
      }
    },
  },
  {
    name: 'an id that is used twice',
    severity: 'error',
    *find({ checkpoints, defences, entries = [], exits = [] }) {
      // A rep names each of these by its id alone; it is left by an exit or by an answer.
      const lists: [FieldPath, Id | undefined][][] = [
        checkpoints.flatMap(({ variants }, i) =>
          variants.map(({ id }, k): [FieldPath, Id] => [['checkpoints', i, 'variants', k], id]),
        ),
        [
          ...defences.flatMap(({ answers }, i) =>
            answers.map(({ id }, k): [FieldPath, Id | undefined] => [['defences', i, 'answers', k], id]),
          ),
          ...exits.map(({ id }, i): [FieldPath, Id] => [['exits', i], id]),
        ],
        entries.map(({ id }, i): [FieldPath, Id] => [['entries', i], id]),
      ];
      for (const list of lists) {
        const seen = new Set<Id>();
        for (const [path, id] of list) {
          if (id === undefined) continue;
          if (seen.has(id))
            yield [path, `The id "${id}" is used twice: a rep could not say which. Change one.`];
          seen.add(id);
        }
      }
    },
  },
  {
    name: 'a checkpoint that waits for itself',
    severity: 'error',
    *find(draft) {
      for (const [i, { id }] of draft.checkpoints.entries())
        if (waitsForItself(draft, id))
          yield [
            ['checkpoints', i, 'after'],
            `Checkpoint ${i + 1} waits for itself through others: delete one of the links.`,
          ];
    },
  },
];

/** What can be wrong with the checkpoints taken together. */
export const ofAllCheckpoints: readonly Rule<Draft>[] = [
  {
    name: 'weights that do not add up',
    severity: 'error',
    find({ checkpoints }) {
      const total = checkpoints.reduce((sum, { belief }) => sum + belief, 0);
      return saying(
        ['checkpoints'],
        checkpoints.length > 0 &&
          Math.abs(total - 100) > 0.01 &&
          `The weights add up to ${Math.round(total * 10) / 10}, not 100: move one and the others follow.`,
      );
    },
  },
  {
    name: 'a kind that a submission lacks',
    severity: 'warning',
    *find({ checkpoints }, { technique }) {
      if (technique.kind !== 'submission' || checkpoints.length < kindsExpected) return;
      for (const kind of CheckpointKind.options)
        if (!checkpoints.some((one) => one.kind === kind))
          yield [['checkpoints'], `No ${kind} checkpoint. Needed?`];
    },
  },
  {
    name: 'a finish that comes first',
    severity: 'warning',
    find: ({ checkpoints }) =>
      saying(
        ['checkpoints', 0, 'kind'],
        checkpoints.length > 1 &&
          checkpoints[0]!.kind === 'finish' &&
          'The first checkpoint is a finish: what must be true before it?',
      ),
  },
  {
    name: 'nothing that goes wrong',
    severity: 'warning',
    find: ({ checkpoints, mistakes, defences }) =>
      saying(
        ['mistakes'],
        checkpoints.length >= longEnough &&
          mistakes.length + defences.length === 0 &&
          `No mistakes or defences yet. Add the common ones.`,
      ),
  },
];

/** From this many checkpoints on, some usually go wrong. */
const longEnough = 8;
/** From this many on, one of each kind is expected. */
const kindsExpected = 5;

/** Mechanisms by the words that give them away, and the rule tag that an event goes by. */
const givenAway: readonly (readonly [RuleTag, RegExp])[] = [
  [
    'neck crank',
    /\b(crank|neck (?:is )?(?:twist|bent|bend|turn)\w*|can opener|chin to (?:the )?chest by force)\b/i,
  ],
  ['spinal', /\b(spinal|spine (?:is )?(?:twist|bent|bend|turn)\w*|twist(?:s|ed|ing)? the spine)\b/i],
  ['wrist', /(?<!double )\bwrist ?locks?\b|\b(?:bend|bends|bending|fold|folds|folding) the wrist\b/i],
  ['slicer', /\bslicers?\b|\bslic(?:e|es|ing) the (?:calf|biceps)\b/i],
  [
    'twisting leg lock',
    /\b(heel hook|toe hold|twist(?:s|ed|ing)? (?:the|his|her|their) (?:foot|heel|knee|leg)|inside heel|outside heel)\b/i,
  ],
  ['reaping', /\b(reap|reaps|reaped|reaping)\b/i],
];

/** What can be wrong with exits, with care and with words, after the parts were looked at. */
export const ofTheRest: readonly Rule<Draft>[] = [
  {
    name: 'an exit that leads nowhere',
    severity: 'error',
    *find({ exits = [] }, whole) {
      for (const [i, { technique: to, enteredAt }] of exits.entries()) {
        const why = deadEnd(whole, to, enteredAt);
        if (why) yield [['exits', i, whole.library(to) ? 'enteredAt' : 'technique'], why];
      }
    },
  },
  {
    name: 'fast or restricted, without a safety note',
    severity: 'error',
    find: (_, { technique: { safetyNote, loadSpeed, ruleTags } }) =>
      saying(
        ['technique', 'safetyNote'],
        isEmpty(safetyNote) &&
          (loadSpeed === 'fast' || ruleTags.length > 0) &&
          'Fast or restricted, without a safety note: write how to put it on, and when to stop.',
      ),
  },
  {
    name: 'a safety note without content',
    severity: 'warning',
    find: (_, { technique: { safetyNote } }) =>
      saying(
        ['technique', 'safetyNote'],
        !isEmpty(safetyNote) &&
          /^\W*(?:please\W+)?(?:be (?:very )?(?:careful|safe)|careful|caution|take care|slowly?|safety first|none|n\/?a|tbd|ok|-|do it slowly|go slow(?:ly)?)\W*$/i.test(
            safetyNote,
          ) &&
          'The safety note gives no instruction: write what it can hurt, how to put it on, and when to stop.',
      ),
  },
  {
    name: 'a submission without regions it can hurt',
    severity: 'warning',
    find: (_, { technique: { kind, regions } }) =>
      saying(
        ['technique', 'regions'],
        kind === 'submission' &&
          regions.length === 0 &&
          'A submission loads something: choose the regions it can hurt.',
      ),
  },
  {
    name: 'a load from a checkpoint that is not there',
    severity: 'error',
    *find({ checkpoints }, { technique: { loads = [] } }) {
      for (const [i, { from }] of loads.entries())
        if (from !== null && !checkpoints.some(({ id }) => id === from))
          yield [
            ['technique', 'loads', i, 'from'],
            `It loads from checkpoint "${from}", which is missing: choose one that exists.`,
          ];
    },
  },
  {
    name: 'a submission that loads nobody',
    severity: 'warning',
    find: (_, { technique: { kind, loads } }) =>
      saying(
        ['technique', 'loads'],
        kind === 'submission' &&
          loads !== undefined &&
          !loads.some(({ whom }) => whom === 'partner') &&
          'A submission loads the partner somewhere: say where, or finishes are not counted.',
      ),
  },
  {
    name: 'a mechanism without its tag',
    severity: 'warning',
    *find(draft, { technique }) {
      const words = [
        technique.name,
        ...technique.aliases,
        ...draft.checkpoints.flatMap(({ title, criterion }) => [title, criterion]),
      ];
      const tagged = (tag: RuleTag) =>
        technique.ruleTags.includes(tag) ||
        (tag === 'neck crank' && technique.ruleTags.includes('spinal')) ||
        draft.checkpoints.some(({ variants }) =>
          variants.some(({ ruleTags = [] }) => ruleTags.includes(tag)),
        );
      for (const [tag, sign] of givenAway) {
        const hit = words.map((text) => sign.exec(text)).find(Boolean);
        if (hit && !tagged(tag))
          yield [
            ['technique', 'ruleTags'],
            `“${hit[0]}” sounds like the tag “${tag}”, which is missing: an event or your rules may forbid it.`,
          ];
      }
      if (technique.mechanism === 'spinal' && !tagged('spinal'))
        yield [
          ['technique', 'ruleTags'],
          'The mechanism is spinal, and the tag “spinal” is missing: an event or your rules may forbid it.',
        ];
    },
  },
  {
    name: 'a load without its tag',
    severity: 'warning',
    *find(_, { technique }) {
      const tags: Partial<Record<Region, RuleTag>> = { wrist: 'wrist', spine: 'spinal', calf: 'slicer' };
      for (const [i, { region, whom, how }] of (technique.loads ?? []).entries()) {
        const tag = tags[region];
        if (tag && whom === 'partner' && how === 'finish' && !technique.ruleTags.includes(tag))
          yield [
            ['technique', 'loads', i],
            `It takes the ${region} to the finish, and the tag “${tag}” is missing: add it, or say that it is only loaded on the way.`,
          ];
      }
    },
  },
  {
    name: 'a safe exit into what is not safe',
    severity: 'error',
    *find({ exits = [] }, { beside: { tagsOf } }) {
      for (const [i, { technique: to, unsafe }] of exits.entries())
        if (!unsafe && tagsOf?.(to).some((tag) => tag === 'spinal' || tag === 'neck crank'))
          yield [
            ['exits', i, 'unsafe'],
            'It leads into a lock on the spine: say that it is not for a training partner.',
          ];
    },
  },
  {
    name: 'entries and exits that do not say how',
    severity: 'warning',
    *find({ entries = [], exits = [] }) {
      for (const [i, { from, how }] of entries.entries()) {
        if (isEmpty(from)) yield [['entries', i, 'from'], 'This entry does not say from where.'];
        if (isEmpty(how)) yield [['entries', i, 'how'], 'This entry does not say how.'];
      }
      for (const [i, { how }] of exits.entries())
        if (isEmpty(how)) yield [['exits', i, 'how'], 'This exit does not say how.'];
    },
  },
  {
    name: 'a submission without a safety note',
    severity: 'warning',
    find: (_, { technique: { safetyNote, loadSpeed, ruleTags, kind } }) =>
      saying(
        ['technique', 'safetyNote'],
        isEmpty(safetyNote) &&
          loadSpeed !== 'fast' &&
          ruleTags.length === 0 &&
          kind === 'submission' &&
          'No safety note: write what it can hurt and how slowly to put it on.',
      ),
  },
  {
    name: 'a side that will not turn round',
    severity: 'warning',
    *find(draft) {
      for (const { path, text } of textsOf(draft))
        for (const word of bareSideWords(text))
          yield [
            path,
            `"${word}" will not turn round for the other side: write {${word}}, or near, far, top or bottom.`,
          ];
    },
  },
];
