export * from './reach';
export * from './ways';
