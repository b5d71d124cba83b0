export * from './breakdown-json';
export * from './reading-json';
export * from './reps-csv';
export * from './table-csv';
