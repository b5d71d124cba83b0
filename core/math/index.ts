export * from './beta';
export * from './estimate';
export * from './wilson';
