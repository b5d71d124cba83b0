export * from './fit';
export * from './mode';
export * from './priors';
export * from './posterior';
export { placesOf } from './survey';
export * from './trials';
export { finished, type Steps } from '../math';
