export * from './evidence';
export * from './plain';
export * from './reading';
export * from './survival';
export * from './tally';
