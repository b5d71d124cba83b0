export * from './critique';
export type { FieldPath, Finding, Library } from './rule';
export { textsOf } from './texts';
