export * from './facts';
export * from './observe';
export * from './rep';
export * from './session';
export * from './turn';
export * from './pairing';
