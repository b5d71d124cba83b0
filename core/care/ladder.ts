import type { RuleSet } from './rules';

/** What a grade is called here, and otherwise which it is: “Green belt”, or “grade 2”. */
export const gradeWords = ({ ladder }: Pick<RuleSet, 'ladder'>, grade: number): string =>
  ladder[grade] ?? `grade ${grade}`;
