export * from './decide';
export * from './prescribe';
export * from './signoff';
export * from './words';
