export * from './academy';
export * from './simulate';
export * from './techniques';
