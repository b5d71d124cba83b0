export * from './critique';
