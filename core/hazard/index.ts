export * from './fit';
export * from './mode';
export * from './posterior';
export * from './trials';
export { finished, type Steps } from '../math';
