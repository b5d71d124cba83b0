import type { FieldChange } from './changes';
import { placeOf } from './causes';
import type { Draft } from './breakdown';
import type { Id } from './ids';

const fields: Readonly<Record<string, string>> = {
  title: 'title',
  criterion: 'criterion',
  kind: 'kind',
  proofs: 'proofs',
  tolerance: 'tolerance',
  after: 'what must hold before',
  belief: 'weight',
  window: 'window',
  mendable: 'whether it can be fixed',
  variants: 'variants',
  together: 'what comes with it',
  withinSeconds: 'how soon',
  task: 'the partner’s task',
  loads: 'what it loads',
  reach: 'what closes around what',
  caution: 'caution',
  piece: 'the piece that it is',
  at: 'where it shows',
  root: 'root',
  seen: 'what is seen',
  believes: 'what the student believes',
  breaks: 'what it breaks',
  cue: 'cue',
  drills: 'drills',
  opens: 'where it opens',
  closes: 'where it closes',
  signal: 'signal',
  answers: 'answers',
  leaves: 'where it leaves the two',
  type: 'type',
  becomes: 'what it becomes',
  underLoadOnly: 'only under load',
  name: 'name',
  aliases: 'other names',
  startPosition: 'start position',
  mechanism: 'mechanism',
  regions: 'regions',
  ruleTags: 'rule tags',
  loadSpeed: 'load speed',
  safetyNote: 'safety note',
  attire: 'attire',
  from: 'from',
  how: 'how',
  entries: 'entries',
  exits: 'exits',
  finishes: 'ways to finish',
  fallback: 'where it leaves the attacker',
};

/** What changed, and where, in words: "Checkpoint 4 “Arm deep”: criterion". */
export function changeWords({ path, is }: FieldChange, before: Draft, after: Draft): string {
  const [list, id, ...rest] = path.map(String);
  const found = (draft: Draft, lists: 'checkpoints' | 'mistakes' | 'defences'): string | undefined =>
    draft[lists].find((one) => one.id === id)?.title;
  const thing = (): string => {
    if (list === 'checkpoints') {
      const place = placeOf(after, id as Id);
      const title = found(after, 'checkpoints') ?? found(before, 'checkpoints') ?? id;
      return place < 0 ? `Checkpoint “${title}”` : `Checkpoint ${place + 1} “${title}”`;
    }
    if (list === 'mistakes' || list === 'defences')
      return `${list === 'mistakes' ? 'Mistake' : 'Defence'} “${found(after, list) ?? found(before, list) ?? id}”`;
    if (list === 'retired') return 'Archived checkpoints';
    return fields[list ?? ''] ?? list ?? 'the breakdown';
  };
  if (id === undefined || !['checkpoints', 'mistakes', 'defences'].includes(list!))
    return `${thing()}: ${is}`;
  const verb = { added: 'added', removed: 'deleted', moved: 'moved', changed: 'changed' }[is];
  const field = rest.find((key) => fields[key]) ?? rest[0];
  return rest.length === 0 ? `${thing()}: ${verb}` : `${thing()}: ${fields[field ?? ''] ?? field} ${verb}`;
}
