import type { Answer, Defence, Draft } from './breakdown';
import type { Id } from './ids';

const longestStem = 48;

/** The answers to a defence, each with its id. One that was written before answers had ids is called by its defence and place. */
export const answersOf = ({
  id: defence,
  answers,
}: Pick<Defence, 'id' | 'answers'>): (Answer & { id: Id })[] =>
  answers.map((answer, i) => ({
    ...answer,
    id: answer.id ?? `${defence.slice(0, longestStem)}-answer-${i + 1}`,
  }));

/** A draft in which every answer has an id, so that it keeps it wherever it is moved to. */
export const withAnswerIds = <One extends Pick<Draft, 'defences'>>(draft: One): One =>
  draft.defences.every(({ answers }) => answers.every(({ id }) => id !== undefined))
    ? draft
    : { ...draft, defences: draft.defences.map((one) => ({ ...one, answers: answersOf(one) })) };
