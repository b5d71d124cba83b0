import type { RuleSet } from './rules';

/** The name of a grade here, or its number: “Green belt”, or “grade 2”. */
export const gradeWords = ({ ladder }: Pick<RuleSet, 'ladder'>, grade: number): string =>
  ladder[grade] ?? `grade ${grade}`;
