export * from './estimate';
export * from './student';
export * from './units';
