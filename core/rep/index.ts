export * from './observe';
export * from './order';
export * from './rep';
