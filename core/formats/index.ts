export * from './reps-csv';
