export * from './colour';
export * from './dressing';
