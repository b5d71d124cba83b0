export * from './at-root';
export * from './fault';
export * from './observe';
export * from './odd-measures';
export * from './order';
export * from './rep';
export * from './sequence';
export * from './second-opinion';
