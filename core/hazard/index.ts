export * from './fit';
export * from './mode';
export * from './posterior';
export * from './trials';
