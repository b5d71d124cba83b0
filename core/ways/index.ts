export * from './ways';
