export * from './student';
export * from './units';
