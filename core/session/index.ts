export * from './clock';
export * from './doubles';
export * from './now';
export * from './pairing';
export * from './paper';
export * from './session';
export * from './summary';
export * from './turn';
