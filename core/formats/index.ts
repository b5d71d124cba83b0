export * from './file-text';
// Whatever reads what was given says what is wrong with it in plain words.
import '../words';

export * from './breakdown-json';
export * from './beside-in-file';
export * from './prescriptions-csv';
export * from './reading-json';
export { type RepColumn, repColumns, writeRepsCsv } from './reps-csv';
export * from './reps-csv-in';
export * from './roster';
export type { DateOrder } from './roster-cells';
export * from './table-csv';
export * from './technique-in-file';
export * from './weeks-ics';
