export * from './reach';
export * from './variants';
