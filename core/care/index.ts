export * from './exposure';
export * from './notes';
export * from './permit';
export * from './rules';
