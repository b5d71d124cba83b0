export * from './breakdown';
export * from './causes';
export * from './ids';
export * from './sides';
export * from './technique';
