export * from './exposure';
export * from './loads';
export * from './notes';
export * from './permit';
export * from './rules';
export * from './rule-book';
