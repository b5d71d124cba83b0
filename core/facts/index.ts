export * from './cause-tag';
export * from './kind';
export * from './log';
export * from './registry';
export * from './second-opinion';
export * from './standing';
export * from './void';
