export * from './evidence';
export * from './plain';
export * from './survival';
export * from './tally';
