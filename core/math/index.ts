export * from './agreement';
export * from './beta';
export * from './cholesky';
export * from './estimate';
export * from './normal';
export * from './simplex';
export * from './steps';
export * from './wilson';
