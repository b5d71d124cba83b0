export * from './agreement';
export * from './beta';
export * from './cholesky';
export * from './estimate';
export * from './longest-run';
export * from './normal';
export * from './steps';
export * from './wilson';
