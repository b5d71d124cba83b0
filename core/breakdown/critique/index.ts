export * from './critique';
export { harmIn } from './harm';
