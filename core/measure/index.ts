export * from './belt';
