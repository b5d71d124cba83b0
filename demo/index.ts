export * from './academy';
export { refused } from './corrections';
export * from './simulate';
export * from './techniques';
