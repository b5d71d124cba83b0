export * from './exposure';
export * from './ladder';
export * from './legality';
export * from './loads';
export * from './notes';
export * from './permit';
export * from './rules';
export * from './rule-book';
