export * from './facts';
export * from './observe';
export * from './rep';
