export * from './drill';
export * from './match';
export * from './shipped';
