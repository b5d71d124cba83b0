import type { Answer, Defence, Draft } from './breakdown';
import type { Id } from './ids';

/** The answers to a defence, each with its id. One that was written before answers had ids is called by its place. */
export const answersOf = ({ answers }: Pick<Defence, 'answers'>): (Answer & { id: Id })[] =>
  answers.map((answer, i) => ({ ...answer, id: answer.id ?? `answer-${i + 1}` }));

/** A draft in which every answer has an id, so that it keeps it wherever it is moved to. */
export const withAnswerIds = <One extends Pick<Draft, 'defences'>>(draft: One): One =>
  draft.defences.every(({ answers }) => answers.every(({ id }) => id !== undefined))
    ? draft
    : { ...draft, defences: draft.defences.map((one) => ({ ...one, answers: answersOf(one) })) };
